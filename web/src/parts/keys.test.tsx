// @vitest-environment jsdom
import { render } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import { setSingleKeys, useKeys } from "./keys";

function Page({ act }: { act: () => void }) {
  useKeys({ " ": act, "mod+z": act });
  return <input aria-label="Name" />;
}

function press(key: string, more: KeyboardEventInit = {}) {
  document.body.dispatchEvent(
    new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true, ...more }),
  );
}

afterEach(() => {
  document.body.innerHTML = "";
  localStorage.clear();
});

test("a key acts, but not while something is typed, in a dialog, or once it is switched off", () => {
  const act = vi.fn();
  const page = render(<Page act={act} />);
  press(" ");
  expect(act).toHaveBeenCalledTimes(1);
  page.getByLabelText("Name").focus();
  press(" ");
  expect(act).toHaveBeenCalledTimes(1);
  page.getByLabelText("Name").blur();
  const dialog = document.createElement("div");
  dialog.setAttribute("role", "dialog");
  document.body.append(dialog);
  press(" ");
  dialog.remove();
  expect(act).toHaveBeenCalledTimes(1);
  setSingleKeys(false);
  press(" ");
  expect(act).toHaveBeenCalledTimes(1);
  press("Z", { ctrlKey: true });
  expect(act).toHaveBeenCalledTimes(2);
});
