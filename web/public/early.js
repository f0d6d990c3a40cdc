// Asks for what the page at this address shows, before the program itself is read; api/client.ts takes the answers.
(() => {
  const [, place, site, stage] = location.pathname.split("/");
  const paths = ["session"];
  if (!place) paths.push("sites");
  if (place === "sites" && site) {
    const sheets = {
      survey: "survey",
      kit: "kit",
      addresses: "addresses",
      settings: "secrets",
      bench: "bench?hand=1&technicians=1",
      links: "links",
      proof: "proof",
      handover: "files",
      log: "log?search=&device=",
    };
    const sheet = sheets[stage];
    const plain = !location.search || !sheet?.includes("?");
    for (const part of ["", "/job", sheet && plain && `/${sheet}`])
      if (part !== undefined && part !== false) paths.push(`sites/${site}${part}`);
  }
  globalThis.tutelarEarly = new Map(paths.map((path) => [`/api/${path}`, fetch(`/api/${path}`)]));
  for (const answer of globalThis.tutelarEarly.values()) answer.catch(() => {}); // whoever takes it asks again
})();
