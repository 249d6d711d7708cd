/** One thing that a job asks for, in the words of its file. */
export interface Ask {
  kind: 'run' | 'value' | 'file';
  /** The job or stream, or the file watch, as it is written. */
  on: string;
  /** What is asked of it, without its name. */
  words: string;
  /** Whether another one would do instead. */
  alternative: boolean;
  /** Whether it asks for the opposite. */
  not: boolean;
}

type Part =
  | {
      type: 'one';
      from: number;
      to: number;
      ask: Omit<Ask, 'alternative' | 'not'>;
      name: [number, number];
    }
  | { type: 'not'; from: number; to: number; part: Part }
  | { type: 'all' | 'any'; from: number; to: number; parts: Part[] };

interface Word {
  text: string;
  from: number;
  to: number;
}

/** What cannot be read as a prerequisite. */
export class NotAPrerequisite extends Error {}

function words(text: string): Word[] {
  const found: Word[] = [];
  const pattern = /"[^"]*"|[()]|[^\s()]+/g;
  for (let one = pattern.exec(text); one; one = pattern.exec(text)) {
    found.push({ text: one[0], from: one.index, to: one.index + one[0].length });
  }
  return found;
}

const OUTCOMES = ['succeeded', 'failed', 'skipped', 'running', 'ended'];

/** Reads a prerequisite as far as a picture needs it: what the service refuses may pass here. */
class Reader {
  private at = 0;
  constructor(
    private readonly all: Word[],
    private readonly text: string,
  ) {}

  whole(): Part {
    const part = this.any();
    if (this.at < this.all.length) {
      throw new NotAPrerequisite(`"${this.peek()}" cannot stand here`);
    }
    return part;
  }

  private peek(): string {
    return this.all[this.at]?.text ?? '';
  }

  private next(): Word {
    const word = this.all[this.at];
    if (!word) {
      throw new NotAPrerequisite('something is missing at the end');
    }
    this.at++;
    return word;
  }

  private any(): Part {
    return this.list('any', 'or', () => this.list('all', 'and', () => this.one()));
  }

  private list(type: 'all' | 'any', word: string, read: () => Part): Part {
    const parts = [read()];
    while (this.peek() === word) {
      this.at++;
      parts.push(read());
    }
    const first = parts[0];
    const last = parts[parts.length - 1];
    if (parts.length === 1 || !first || !last) {
      return parts[0] as Part;
    }
    return { type, from: first.from, to: last.to, parts };
  }

  private one(): Part {
    const first = this.next();
    if (first.text === 'not') {
      const part = this.one();
      return { type: 'not', from: first.from, to: part.to, part };
    }
    if (first.text === '(') {
      const part = this.any();
      const close = this.next();
      if (close.text !== ')') {
        throw new NotAPrerequisite('a ) is missing');
      }
      return { ...part, from: first.from, to: close.to };
    }
    return this.ask(first);
  }

  private ask(first: Word): Part {
    let kind: Ask['kind'] = 'run';
    let name = first;
    let told = '';
    if (first.text === 'file' && !OUTCOMES.includes(this.peek())) {
      kind = 'file';
      name = this.next();
    } else if (first.text === 'value' && !OUTCOMES.includes(this.peek())) {
      kind = 'value';
      told = this.next().text;
      if (this.next().text !== 'of') {
        throw new NotAPrerequisite('"of" is missing');
      }
      name = this.next();
    }
    let last = name;
    while (this.at < this.all.length && !['and', 'or', ')', '('].includes(this.peek())) {
      last = this.next();
    }
    if (last === name) {
      throw new NotAPrerequisite(`what is asked of ${name.text}?`);
    }
    const asked = this.text.slice(name.to, last.to).trim();
    return {
      type: 'one',
      from: first.from,
      to: last.to,
      ask: { kind, on: name.text, words: told ? `${told} ${asked}` : asked },
      name: [name.from, name.to],
    };
  }
}

function read(text: string): Part | undefined {
  return text.trim() === '' ? undefined : new Reader(words(text), text).whole();
}

function each(
  part: Part,
  wanted: boolean,
  alternative: boolean,
  take: (one: Extract<Part, { type: 'one' }>, not: boolean, alternative: boolean) => void,
): void {
  if (part.type === 'one') {
    take(part, !wanted, alternative);
  } else if (part.type === 'not') {
    each(part.part, !wanted, alternative, take);
  } else {
    const oneWillDo = part.type === 'any' ? wanted : !wanted;
    part.parts.forEach((inner) => each(inner, wanted, alternative || oneWillDo, take));
  }
}

/**
 * What a prerequisite asks for, in its order.
 *
 * @throws NotAPrerequisite where it cannot be read
 */
export function asks(text: string): Ask[] {
  const found: Ask[] = [];
  const whole = read(text);
  if (whole) {
    each(whole, true, false, (one, not, alternative) =>
      found.push({ ...one.ask, not, alternative }),
    );
  }
  return found;
}

/** The prerequisite, and one thing more that must be so. */
export function withAsk(text: string, term: string): string {
  const whole = read(text);
  if (!whole) {
    return term;
  }
  const open = whole.type === 'any' && text.trim()[0] !== '(';
  return open ? `(${text.trim()}) and ${term}` : `${text.trim()} and ${term}`;
}

/** What is cut out of a text for a part to go: with the word that joins it; null for all of it. */
function cut(part: Part, gone: (one: Part) => boolean): [number, number] | null | undefined {
  if (gone(part)) {
    return null;
  }
  if (part.type === 'not') {
    return cut(part.part, gone);
  }
  if (part.type === 'one') {
    return undefined;
  }
  for (let i = 0; i < part.parts.length; i++) {
    const inner = part.parts[i] as Part;
    const found = cut(inner, gone);
    if (found === null) {
      const before = part.parts[i - 1];
      const next = part.parts[i + 1];
      return before ? [before.to, inner.to] : next ? [inner.from, next.from] : null;
    }
    if (found) {
      return found;
    }
  }
  return undefined;
}

/** The prerequisite without the nth thing that it asks for; empty where nothing is left. */
export function withoutAsk(text: string, nth: number): string {
  const whole = read(text);
  if (!whole) {
    return text;
  }
  let target: Part | undefined;
  let count = 0;
  each(whole, true, false, (one) => {
    if (count++ === nth) {
      target = one;
    }
  });
  if (!target) {
    return text;
  }
  const gone = cut(whole, (one) => one === target);
  return gone === null ? '' : gone ? text.slice(0, gone[0]) + text.slice(gone[1]) : text;
}

/** The prerequisite with the nth thing that it asks for replaced. */
export function withOtherAsk(text: string, nth: number, term: string): string {
  const whole = read(text);
  let count = 0;
  let out = text;
  if (whole) {
    each(whole, true, false, (one) => {
      if (count++ === nth) {
        out = text.slice(0, one.from) + term + text.slice(one.to);
      }
    });
  }
  return out;
}

/** The prerequisite with another name wherever one stands. */
export function renamed(text: string, names: (on: string, kind: Ask['kind']) => string): string {
  const whole = read(text);
  const places: { from: number; to: number; text: string }[] = [];
  if (whole) {
    each(whole, true, false, (one) => {
      const name = names(one.ask.on, one.ask.kind);
      if (name !== one.ask.on) {
        places.push({ from: one.name[0], to: one.name[1], text: name });
      }
    });
  }
  return places
    .sort((a, b) => b.from - a.from)
    .reduce((all, one) => all.slice(0, one.from) + one.text + all.slice(one.to), text);
}

/** The term that asks something of a job, stream or file watch. */
export function term(kind: 'job' | 'file', on: string, outcome = 'succeeded'): string {
  return kind === 'file' ? `file ${on} arrived` : `${on} ${outcome}`;
}
