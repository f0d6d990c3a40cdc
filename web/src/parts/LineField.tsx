/** One line of words with its label above; `look` is how it stands among others. */
export function LineField({
  label,
  value,
  set,
  most = 500,
  look = "",
}: {
  label: string;
  value: string;
  set: (value: string) => void;
  most?: number;
  look?: string;
}) {
  return (
    <label className={`grid min-w-0 gap-0.5 text-cell ${look}`}>
      {label}
      <input
        className="box w-full min-w-0"
        maxLength={most}
        value={value}
        onChange={(event) => set(event.target.value)}
      />
    </label>
  );
}
