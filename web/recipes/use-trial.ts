import { useEffect, useRef, useState } from 'react';
import { type RecipeBody, recipeBody, recipeTerms } from '#contract/recipes.ts';
import { fetchBytes, problemOf } from '../api.ts';
import type { Against, TrialEffect } from './trial-session.ts';
import type { FromWorker, ToWorker } from './trial-worker.ts';

/** How long typing rests before the server is asked to make a list ready anew. */
const REST_MS = 300;

export interface Trial {
  readonly effect: TrialEffect | null;
  /** From the change to the answer. */
  readonly milliseconds: number;
  /** The server makes the list ready. */
  readonly loading: boolean;
  readonly trouble: string | null;
}

const LOADING: Trial = { effect: null, milliseconds: 0, loading: true, trouble: null };

/**
 * Prices a whole list under a draft of a recipe, in a worker, at every change. `kept`: the recipe it is held against,
 * as JSON. A draft that cannot be priced as it stands leaves the last answer.
 */
export function useTrial(list: string, kept: string, body: RecipeBody, against: Against): Trial {
  const [trial, setTrial] = useState<Trial>(LOADING);
  const [worker, setWorker] = useState<Worker | null>(null);
  /** How often figures came from the server. */
  const [loads, setLoads] = useState(0);
  /** A draft that the figures at hand are not ready for. */
  const [unready, setUnready] = useState<RecipeBody | null>(null);
  const asked = useRef({ turn: 0, at: 0, body });
  /** The draft that the figures at hand were made ready with last. */
  const readied = useRef<RecipeBody | null>(null);

  // a worker for each list; what it holds goes with it
  useEffect(() => {
    const made = new Worker(new URL('./trial-worker.ts', import.meta.url), { type: 'module' });
    made.onerror = () => setTrial({ ...LOADING, loading: false, trouble: 'This browser could not price the list.' });
    made.onmessage = ({ data }: MessageEvent<FromWorker>) => {
      const { turn, at, body: tried } = asked.current;
      if (data.turn !== turn) return;
      if (data.effect)
        setTrial({ effect: data.effect, milliseconds: performance.now() - at, loading: false, trouble: null });
      else if (readied.current !== tried) setUnready(tried);
      else
        setTrial({ ...LOADING, loading: false, trouble: 'This draft cannot be tried at once: a worksheet decides.' });
    };
    const stop = load(made, list, JSON.parse(kept) as RecipeBody, true, (trouble) => {
      if (trouble === null) setWorker(made);
      else setTrial({ ...LOADING, loading: false, trouble });
    });
    return () => {
      stop();
      made.terminate();
      setWorker(null);
      setUnready(null);
      setTrial(LOADING);
    };
  }, [list, kept]);

  useEffect(() => {
    if (!worker || !unready) return;
    setTrial((t) => ({ ...t, loading: true }));
    let stop = () => undefined as void;
    const resting = setTimeout(() => {
      stop = load(worker, list, unready, false, (trouble) => {
        readied.current = unready;
        if (trouble === null) setLoads((n) => n + 1);
        else setTrial({ ...LOADING, loading: false, trouble });
      });
    }, REST_MS);
    return () => {
      clearTimeout(resting);
      stop();
    };
  }, [worker, unready, list]);

  useEffect(() => {
    if (!worker || !recipeBody.isValidSync(body)) return;
    asked.current = { turn: asked.current.turn + 1, at: performance.now(), body };
    // as the server reads it: a field left out and one that says nothing are the same
    const recipe = recipeTerms(recipeBody.cast(body) as RecipeBody, { id: 'draft', version: 0 });
    worker.postMessage({ kind: 'try', recipe, against, turn: asked.current.turn } satisfies ToWorker);
  }, [worker, loads, body, against]);

  return trial;
}

/** Fetches a list made ready with a recipe and hands it to a worker. Returns how to stop it; `done` then is not called. */
function load(
  worker: Worker,
  list: string,
  recipe: RecipeBody,
  first: boolean,
  done: (trouble: string | null) => void,
): () => void {
  let stopped = false;
  fetchBytes(`/lists/${list}/trial`, { recipe }).then(
    (bytes) => {
      if (stopped) return;
      worker.postMessage({ kind: 'load', bytes, first } satisfies ToWorker, [bytes]);
      done(null);
    },
    (error: unknown) => {
      if (!stopped) done(problemOf(error).message);
    },
  );
  return () => {
    stopped = true;
  };
}
