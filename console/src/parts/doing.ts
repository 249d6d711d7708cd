import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Refusal } from '../api/client';

/** Something that a person does, and what became of it. */
export interface Doing {
  /** Does it; the answer says whether the service took it. */
  act: (what: () => Promise<unknown>) => Promise<boolean>;
  busy: boolean;
  /** Why it was refused, in the service's words; empty while nothing is wrong. */
  problem: string;
  /** The status of the last refusal; 0 for none, and where the service could not be reached. */
  status: number;
  /** Forgets the last refusal. */
  forget: () => void;
}

/**
 * One way to do something: a refusal is said and not lost, and what shows the thing that was changed
 * is read again, refused or not, since another may have been there first.
 *
 * @param shows the first words of the queries to read again
 */
export function useDoing(...shows: string[]): Doing {
  const queries = useQueryClient();
  const deed = useMutation({
    mutationFn: (what: () => Promise<unknown>) => what(),
    onSettled: () => {
      shows.forEach((word) => void queries.invalidateQueries({ queryKey: [word] }));
    },
  });
  return {
    act: (what) =>
      deed.mutateAsync(what).then(
        () => true,
        () => false,
      ),
    busy: deed.isPending,
    problem: deed.error?.message ?? '',
    status: deed.error instanceof Refusal ? deed.error.status : 0,
    forget: deed.reset,
  };
}
