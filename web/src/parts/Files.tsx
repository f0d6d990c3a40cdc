import { useQuery } from "@tanstack/react-query";
import { ask, client } from "../api/client";
import { useSiteKey } from "../api/site";
import { Loading, Trouble } from "./Feedback";

const SEMICOLON = "separator=semicolon";

/** The forms that a file of the site is taken away in; a CSV also with semicolons, which some spreadsheets expect. */
export function Forms({
  name,
  title,
  endings,
  query = {},
}: {
  name: string;
  title: string;
  endings: readonly string[];
  query?: Record<string, string>;
}) {
  const site = useSiteKey();
  const asked = new URLSearchParams(query).toString();
  const file = (ending: string, more = "") => {
    const words = [asked, more].filter(Boolean).join("&");
    return `/api/sites/${site}/files/${name}.${ending}${words && `?${words}`}`;
  };
  return (
    <span className="flex flex-wrap gap-x-4 max-md:gap-x-1">
      {endings.flatMap((ending) => {
        const word = ending.toUpperCase();
        const forms = [{ href: file(ending), word, said: word }];
        if (ending === "csv")
          forms.push({ href: file(ending, SEMICOLON), word: "CSV (;)", said: "CSV with semicolons" });
        return forms.map(({ href, word, said }) => (
          <a
            key={word}
            className="inline-flex min-h-11 items-center max-md:min-w-11 max-md:justify-center"
            href={href}
            download
            aria-label={`${title} (${said})`}
            title={said}
          >
            {word}
          </a>
        ));
      })}
    </span>
  );
}

/** What can be taken away of the site, each in its forms. */
export function Files() {
  const site = useSiteKey();
  const files = useQuery({
    queryKey: ["site", site, "files"],
    queryFn: () => ask(client.GET("/api/sites/{key}/files", { params: { path: { key: site } } })),
  });
  if (files.isPending) return <Loading what="what can be downloaded" />;
  if (files.error) return <Trouble error={files.error} retry={() => files.refetch()} />;
  return (
    <ul>
      {files.data.map((file) => (
        <li
          key={file.name}
          className="flex flex-wrap items-center justify-between gap-x-4 border-b border-hair"
        >
          {file.title} <Forms {...file} />
        </li>
      ))}
    </ul>
  );
}
