/** A password of one's own, covered. `fresh`: one that is chosen now. */
export function PasswordField({
  label,
  value,
  set,
  fresh = false,
}: {
  label: string;
  value: string;
  set: (value: string) => void;
  fresh?: boolean;
}) {
  return (
    <label className="grid gap-0.5">
      {label}
      <input
        type="password"
        autoComplete={fresh ? "new-password" : "current-password"}
        className="box w-full min-w-0 font-mono"
        value={value}
        onChange={(event) => set(event.target.value)}
      />
    </label>
  );
}
