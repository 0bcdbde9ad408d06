import { useEffect, useState } from 'react';

/** What a value is once it has stayed the same for so many milliseconds: of a word that is being typed, the whole word. */
export function useRested<T>(value: T, ms: number): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    if (value === rested) return;
    const resting = setTimeout(() => setRested(value), ms);
    return () => clearTimeout(resting);
  }, [value, rested, ms]);
  return rested;
}
