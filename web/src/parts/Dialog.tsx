import { lazy, type ReactNode, Suspense } from "react";
import { later } from "./later";

const fetch = () => import("./Slip");
const Slip = lazy(() => fetch().then((part) => ({ default: part.LargeSlip })));
later(fetch); // so that it is here when it is wanted

/** A large slip over the page, for work that needs room; Esc closes it. */
export function LargeDialog(props: {
  title: string;
  close: () => void;
  children: ReactNode;
  wide?: boolean;
}) {
  return (
    <Suspense fallback={null}>
      <Slip {...props} />
    </Suspense>
  );
}
