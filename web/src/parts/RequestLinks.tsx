import { useSiteKey } from "../api/site";

const FILES = [
  ["request.pdf", "PDF"],
  ["request.xlsx", "XLSX"],
  ["addresses.csv", "addresses CSV"],
  ["flows.csv", "flows CSV"],
] as const;

/** The request to the IT person in the forms in which it can be taken away. */
export function RequestLinks() {
  const key = useSiteKey();
  return (
    <p>
      Request to the IT person:{" "}
      {FILES.map(([file, word], at) => (
        <span key={file}>
          {at > 0 && ", "}
          <a href={`/api/sites/${key}/request/${file}`} download className="inline-block py-1">
            {word}
          </a>
        </span>
      ))}
    </p>
  );
}
