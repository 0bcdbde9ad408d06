import { useMemo } from 'react';
import type { Right, SessionInfo } from '#contract/people.ts';
import { peopleApi } from './endpoints.ts';
import { problemOf } from '../api.ts';

export interface Me {
  readonly id: string;
  readonly name: string;
  readonly role: string;
  readonly rights: ReadonlySet<Right>;
  readonly workspace: SessionInfo['workspace'];
}

export function useMe(): { me: Me | null; loading: boolean; problem: string | null } {
  const { data, isLoading, error } = peopleApi.useSessionQuery();
  // the same while nothing of it changes: columns and questions are made from it
  const me = useMemo((): Me | null => {
    const person = data?.person;
    return data && person ? { ...person, rights: new Set(person.rights), workspace: data.workspace } : null;
  }, [data]);
  return {
    me,
    loading: isLoading,
    problem: error && !data ? problemOf(error).message : null,
  };
}

/** Who is signed in; only inside the frame, where somebody is. */
export function useSignedIn(): Me {
  const { me } = useMe();
  if (!me) throw new Error('nobody is signed in');
  return me;
}
