/** A labelled box that narrows a list while it is typed into. */
export function SearchBox({
  label,
  value,
  search,
}: {
  label: string;
  value: string;
  search: (words: string) => void;
}) {
  return (
    <label className="grid gap-1 text-small text-ink-2">
      {label}
      <input
        type="search"
        className="box text-ink"
        value={value}
        onChange={(event) => search(event.target.value)}
      />
    </label>
  );
}
