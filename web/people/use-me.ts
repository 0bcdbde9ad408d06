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
  const person = data?.person;
  return {
    me: data && person ? { ...person, rights: new Set(person.rights), workspace: data.workspace } : null,
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
