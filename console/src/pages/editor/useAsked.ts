import { useEffect, useRef, useState, type Dispatch } from 'react';
import { api, body, type Schemas } from '../../api/client';
import type { Act } from './editing';

/**
 * Asks the service about a text as one types, one question at a time: what was typed while it was
 * asked is asked as soon as it is answered.
 *
 * @param ask is asked of each text; must be the same function each time
 * @param answered takes the answer to a text
 */
function useAsked<T>(text: string, ask: (text: string) => Promise<T>, answered: (to: T) => void) {
  const wanted = useRef(text);
  const asking = useRef(false);
  const left = useRef(false);
  const take = useRef(answered);
  useEffect(() => {
    take.current = answered;
  });
  useEffect(() => {
    wanted.current = text;
    const go = async () => {
      asking.current = true;
      for (let asked: string | undefined; !left.current && asked !== wanted.current;) {
        asked = wanted.current;
        const answer = await ask(asked);
        if (!left.current) {
          take.current(answer);
        }
      }
      asking.current = false;
    };
    if (!asking.current) {
      void go();
    }
  }, [text, ask]);
  useEffect(() => {
    left.current = false;
    return () => {
      left.current = true;
    };
  }, []);
}

function request(text: string) {
  return { body: { files: [{ name: 'draft.yaml', text }], reason: '' } };
}

interface Checked {
  /** What was checked; empty where it could not be. */
  text: string;
  problems: Schemas['ProblemView'][];
}

function checked(text: string): Promise<Checked> {
  return body(api.POST('/api/v1/definitions/check', request(text))).then(
    (result) => ({ text, problems: result.problems }),
    ({ message }: Error) => {
      const place = { severity: 'error', file: 'draft.yaml', line: 1, column: 1 };
      return { text: '', problems: [{ ...place, message }] };
    },
  );
}

/** What is wrong with a text, as the service says. */
export function useCheck(text: string): Checked {
  const [found, setFound] = useState<Checked>({ text: '', problems: [] });
  useAsked(text, checked, setFound);
  return found;
}

/** Streams of a text as templates fill them; none where no template has a part in it. */
function filled(text: string): Promise<Schemas['FilledView'][] | undefined> {
  return /from-template:/.test(text)
    ? body(api.POST('/api/v1/templates/filled', request(text))).catch(() => undefined)
    : Promise.resolve([]);
}

/** Shows what templates put into the stream; what cannot be filled just now stays as it was. */
export function useFilled(text: string, stream: string, act: Dispatch<Act>) {
  useAsked(text, filled, (all) => {
    const one = all?.find((found) => found.stream === stream);
    if (all) {
      act({ do: 'filled', text: one?.text ?? '', deviations: one?.deviations ?? [] });
    }
  });
}
