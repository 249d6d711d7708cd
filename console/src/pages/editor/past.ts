/** A text with all that it was: undone and done again to the end. */
export interface Past {
  before: string[];
  now: string;
  after: string[];
  /** What made the last change, and when: letters typed in a row are one. */
  by: string;
  at: number;
}

const IN_A_ROW_MILLIS = 700;
const MOST = 500;

export function begin(text: string): Past {
  return { before: [], now: text, after: [], by: '', at: 0 };
}

/** With another text; what was typed in a row is one step. */
export function changed(past: Past, text: string, by: string, at: number): Past {
  if (text === past.now) {
    return past;
  }
  const goesOn = by === 'typed' && past.by === by && at - past.at < IN_A_ROW_MILLIS;
  const before = goesOn ? past.before : [...past.before.slice(-MOST + 1), past.now];
  return { before, now: text, after: [], by, at };
}

/** One step back. */
export function undone(past: Past): Past {
  const now = past.before[past.before.length - 1];
  return now === undefined
    ? past
    : { before: past.before.slice(0, -1), now, after: [past.now, ...past.after], by: '', at: 0 };
}

/** One step forward again. */
export function redone(past: Past): Past {
  const now = past.after[0];
  return now === undefined
    ? past
    : { before: [...past.before, past.now], now, after: past.after.slice(1), by: '', at: 0 };
}
