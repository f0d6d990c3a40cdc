import { useEffect, useRef } from "react";

const CONTROLS = "input,select,textarea,button,a[href],[contenteditable=true],[role=option],[role=menuitem]";
const SETTING = "tutelar.single-keys";

export function singleKeysOn(): boolean {
  return localStorage.getItem(SETTING) !== "off";
}

export function setSingleKeys(on: boolean): void {
  localStorage.setItem(SETTING, on ? "on" : "off");
}

/** Whether a key press may act as a shortcut: no control has the focus, no dialog is open. */
function mayAct(event: KeyboardEvent): boolean {
  if (event.defaultPrevented || event.metaKey || event.altKey) return false;
  if (document.querySelector('[role="dialog"]')) return false;
  const focused = document.activeElement;
  return !(focused?.matches(CONTROLS) && !focused.hasAttribute("data-shortcuts"));
}

export type Keys = Record<string, (() => void) | false | undefined>;

/** Single keys for this screen, e.g. {" ": plan, "a": fix}; "mod+z" for Ctrl or Cmd. Off when switched off. */
export function useKeys(keys: Keys): void {
  const current = useRef(keys);
  current.current = keys;
  useEffect(() => {
    function press(event: KeyboardEvent) {
      const plain = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const name = event.ctrlKey ? `mod+${plain}` : plain;
      const act = current.current[name];
      if (!act || !mayAct(event) || (!event.ctrlKey && !singleKeysOn())) return;
      event.preventDefault();
      act();
    }
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}
