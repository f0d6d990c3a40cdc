import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Dialog,
  DialogPanel,
  DialogTitle,
} from "@headlessui/react";
import { useState } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { useSiteKey } from "../api/site";
import { hasAll, wordsOf } from "./filter";

type Found = Schemas["Findable"];

/** Devices that answer to what was typed: name, key, place, or the end of an address ("14" finds .14 and .114). */
function matching(devices: Found[], typed: string, most = 12): Found[] {
  const words = wordsOf(typed);
  if (words.length === 0) return devices.slice(0, most);
  const hits = devices.filter((device) =>
    hasAll(words, `${device.name} ${device.key} ${device.place ?? ""} ${device.address ?? ""}`),
  );
  const exact = (device: Found) => words.some((word) => device.address?.endsWith(`.${word}`));
  return [...hits.filter(exact), ...hits.filter((device) => !exact(device))].slice(0, most);
}

/** Find a device, and the few settings of this screen. */
export function Finder({ open, close, devices }: { open: boolean; close: () => void; devices: Found[] }) {
  const [typed, setTyped] = useState("");
  const site = useSiteKey();
  const navigate = useNavigate();
  const onSheet = useLocation().pathname.endsWith("/addresses"); // there its cell is meant, elsewhere its page
  const found = matching(devices, typed);

  function leave() {
    setTyped("");
    close();
  }
  function go(device: Found | null) {
    if (!device) return;
    leave();
    const cell = `addresses?net=${device.network ?? ""}&device=${device.key}`;
    navigate(`/sites/${site}/${onSheet ? cell : `devices/${device.key}`}`);
  }
  return (
    <Dialog open={open} onClose={leave} className="relative z-30">
      <div className="fixed inset-0 bg-ink/30" aria-hidden="true" />
      <div className="fixed inset-0 flex items-start justify-center p-4 md:pt-24">
        <DialogPanel className="slip flex max-h-[80dvh] w-full max-w-xl flex-col">
          <DialogTitle className="text-lead font-semibold">Find a device or an address</DialogTitle>
          <Combobox onChange={go}>
            <ComboboxInput
              aria-label="Name, place or address"
              autoFocus
              className="box mt-3 w-full border-2 font-mono text-lead"
              onChange={(event) => setTyped(event.target.value)}
              onKeyDown={(event) => event.key === "Escape" && leave()}
            />
            <ComboboxOptions static modal={false} className="mt-2 min-h-0 overflow-auto">
              {found.map((device) => (
                <ComboboxOption
                  key={device.key}
                  value={device}
                  className="flex min-h-11 cursor-pointer items-center justify-between gap-4 border-b border-hair px-2 data-focus:bg-kelp-wash"
                >
                  <span className="min-w-0 truncate">
                    {device.name} <span className="text-ink-2">{device.place}</span>
                  </span>
                  <span className="font-mono text-list">{device.address ?? "no address"}</span>
                </ComboboxOption>
              ))}
            </ComboboxOptions>
          </Combobox>
          <p className="mt-2 flex flex-wrap gap-x-6 text-small">
            <Link to={`/sites/${site}/faults`} className="flex min-h-11 items-center" onClick={leave}>
              Something is offline: find the fault
            </Link>
            <Link to={`/sites/${site}/remote`} className="flex min-h-11 items-center" onClick={leave}>
              Remote access
            </Link>
            <Link to={`/sites/${site}/cards`} className="flex min-h-11 items-center" onClick={leave}>
              Job cards
            </Link>
            <Link to={`/sites/${site}/later`} className="flex min-h-11 items-center" onClick={leave}>
              Replace, retire, diary
            </Link>
          </p>
          {found.length === 0 && (
            <p className="py-3 text-ink-2">Nothing here is called “{typed}” or ends in it.</p>
          )}
        </DialogPanel>
      </div>
    </Dialog>
  );
}
