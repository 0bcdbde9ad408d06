/**
 * A question that many ask at the same time is asked once for all of them. Who comes while it is under way waits for the next
 * one: what was written before they asked may not be in the answer that is on its way.
 */
export function atOnce<A, T>(ask: (about: A) => Promise<T>): (about: A) => Promise<T> {
  const underWay = new Map<string, Promise<T>>();
  const next = new Map<string, Promise<T>>();
  const begin = async (key: string, about: A): Promise<T> => {
    next.delete(key);
    const asked = ask(about);
    underWay.set(key, asked);
    try {
      return await asked;
    } finally {
      if (underWay.get(key) === asked) underWay.delete(key);
    }
  };
  return (about) => {
    const key = JSON.stringify(about);
    const waiting = next.get(key);
    if (waiting) return waiting;
    const go = () => begin(key, about);
    const before = underWay.get(key) ?? Promise.resolve();
    const mine = before.then(go, go);
    next.set(key, mine);
    return mine;
  };
}
