/** What is on its way to the server, kept in the browser until it is answered: a closed tab or a restart loses none. */
export type Waiting<T> = T & { id: string };

const nameOf = (box: string) => `tutelar.outbox.${box}`;

/** What waits in a box, the oldest first. */
export function waiting<T>(box: string): Waiting<T>[] {
  try {
    return JSON.parse(localStorage.getItem(nameOf(box)) ?? "[]") as Waiting<T>[];
  } catch {
    return [];
  }
}

/** Lay something into a box; what comes back carries the name under which it is taken out again. */
export function enqueue<T>(box: string, item: T): Waiting<T> {
  const laid = { ...item, id: `${Date.now()}-${Math.random()}` };
  write(box, [...waiting<T>(box), laid]);
  return laid;
}

/** Take out what was answered. */
export function dequeue(box: string, id: string): void {
  write(
    box,
    waiting(box).filter((item) => item.id !== id),
  );
}

function write(box: string, items: unknown[]): void {
  try {
    if (items.length) localStorage.setItem(nameOf(box), JSON.stringify(items));
    else localStorage.removeItem(nameOf(box));
  } catch {
    // a browser that keeps nothing: it is sent all the same
  }
}
