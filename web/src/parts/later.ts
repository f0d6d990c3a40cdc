const rested = new Promise<void>((done) => {
  const rest = () =>
    "requestIdleCallback" in window
      ? window.requestIdleCallback(() => done(), { timeout: 1500 })
      : setTimeout(done, 300); // not every browser says when it rests
  if (document.readyState === "complete") rest();
  else window.addEventListener("load", rest, { once: true });
});

/** Fetch a part of the page once what is looked at first stands there. */
export async function later<Part>(fetch: () => Promise<Part>): Promise<Part> {
  await rested;
  return fetch();
}
