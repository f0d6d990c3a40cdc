import {
  Menu,
  MenuButton,
  MenuItem,
  MenuItems,
  Popover,
  PopoverButton,
  PopoverPanel,
} from "@headlessui/react";
import type { ReactNode } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { STAGES } from "../stages/stages";
import { Commands } from "./Commands";
import { LAPTOP, LOG, type Row, STAGE_NAME } from "./jobLine";
import { Mark } from "./Mark";
import { StageMark } from "./StageMark";

/** The stages behind the name of the current one. */
export function Stages({ rows, site, name }: { rows: Row[]; site: string; name: ReactNode }) {
  return (
    <Menu>
      <MenuButton className={STAGE_NAME}>{name}</MenuButton>
      <MenuItems anchor="bottom end" className="z-20 border border-field bg-sheet p-1">
        {STAGES.map(({ stage, word }) => (
          <MenuItem key={stage}>
            <Link
              to={`/sites/${site}/${stage}`}
              className="flex min-h-12 min-w-48 items-center justify-between gap-4 px-4 text-ink no-underline data-focus:bg-wash"
            >
              {word}
              <StageMark row={rows.find((item) => item.stage === stage)} />
            </Link>
          </MenuItem>
        ))}
        {[
          { stage: "cards", word: "Job cards" },
          { stage: "asked", word: "Questions to others" },
          { stage: "remote", word: "Remote access" },
          { stage: "faults", word: "Faults" },
          { stage: "leaving", word: "Leaving" },
          { stage: "later", word: "Later" },
          LOG,
        ].map(({ stage, word }) => (
          <MenuItem key={stage}>
            <Link
              to={`/sites/${site}/${stage}`}
              className="flex min-h-12 items-center px-4 text-ink no-underline data-focus:bg-wash"
            >
              {word}
            </Link>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}

/** This laptop while it is fixed by hand; pressing it says how it is set back. */
export function FixedLaptop({ laptop, site }: { laptop: Schemas["Laptop"]; site: string }) {
  return (
    <Popover className="flex">
      <PopoverButton className={LAPTOP}>
        <Mark name="off" size={20} />
        <span className="max-md:sr-only">
          Laptop fixed at
          <b className="block font-mono text-small font-semibold text-ink">{laptop.address}</b>
        </span>
      </PopoverButton>
      <PopoverPanel anchor="bottom end" className="slip z-20 w-[min(30rem,94vw)]">
        <h2 className="font-semibold">
          This laptop is still fixed at <span className="font-mono">{laptop.address}</span>
        </h2>
        <p className="pb-2 text-small text-ink-2">
          The internet is gone until it is automatic again. The bench says when; this is how.
        </p>
        <Commands commands={laptop.back} what="the way back" />
        <Link to={`/sites/${site}/bench`} className="inline-block pt-2">
          Go to the bench
        </Link>
      </PopoverPanel>
    </Popover>
  );
}
