/** The parts of a page, of which one is shown. */
export function PartTabs<P extends string>({
  label,
  parts,
  part,
  show,
}: {
  label: string;
  parts: Record<P, string>;
  part: P;
  show: (part: P) => void;
}) {
  return (
    <nav aria-label={label}>
      <ul className="flex">
        {(Object.keys(parts) as P[]).map((name) => (
          <li key={name}>
            <button
              type="button"
              aria-current={name === part ? "page" : undefined}
              className={`min-h-11 px-3 whitespace-nowrap ${name === part ? "border-b-4 border-kelp font-bold" : "font-medium underline underline-offset-4"}`}
              onClick={() => show(name)}
            >
              {parts[name]}
            </button>
          </li>
        ))}
      </ul>
    </nav>
  );
}
