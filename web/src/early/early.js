// Asks for what the page at this address shows, before the program itself is read; api/client.ts takes the answers.
// The build writes down in which files each stage is.
(() => {
  const CHUNKS = {};
  const [, place, site, stage] = location.pathname.split("/");
  const sheets = {
    survey: "/survey",
    kit: "/kit",
    addresses: "/addresses",
    settings: "/secrets",
    bench: location.search ? undefined : "/bench?hand=1&technicians=1",
    links: "/links",
    recording: "/recording",
    doors: "/doors",
    proof: "/proof",
    handover: "/files",
    log: location.search ? undefined : "/log?search=&device=",
  };
  const paths = place ? [] : ["/api/sites"];
  if (place === "sites" && site)
    for (const part of ["", "/job", sheets[stage]])
      if (part !== undefined) paths.push(`/api/sites/${site}${part}`);
  for (const chunk of CHUNKS[stage] ?? []) {
    const link = document.createElement("link");
    link.rel = "modulepreload";
    link.href = chunk;
    document.head.append(link);
  }
  const session = fetch("/api/session");
  const signedIn = session.then((answer) => answer.clone().json()).then((said) => Boolean(said.user));
  const early = new Map([["/api/session", session]]);
  for (const path of paths)
    early.set(
      path,
      signedIn.then((known) => (known ? fetch(path) : undefined)),
    );
  for (const answer of early.values()) answer.catch(() => {}); // whoever takes it asks again
  globalThis.tutelarEarly = early;
})();
