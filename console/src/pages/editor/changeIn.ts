import { isMap, isScalar, parseAllDocuments } from 'yaml';

/** A value of a text that changed. */
export interface Change {
  /** A key of the top, or `jobs` and the name of a job. */
  path: string[];
  value: unknown;
}

interface Part {
  from: number;
  to: number;
}

/** How many keys the top of a text has, and how many jobs are in it. */
export interface Counts {
  top: number;
  jobs: number;
}

/** What could make one part of a text mean something by another: anchors, more documents. */
const TIED = /^(?:---|\.\.\.|%)|(?:^|[\s[{,])&[^\s&]|\t|\r/m;

/** A key as people write them; with others, all of a text is read. */
const PLAIN_KEY = /^[A-Za-z0-9_][A-Za-z0-9_./-]*:(?: |\n|$)/;

/**
 * What changed between two texts, where all of the change is in the value of one key of the top, or
 * of one job: then that alone is parsed. Undefined where that cannot be told for certain, and where
 * what changed is broken: all of it is to be read then.
 *
 * @param before which could be read
 * @param counts of what was read of it: an entry that lines do not show, or show twice, is noticed
 */
export function changeIn(before: string, after: string, counts: Counts): Change | undefined {
  const same = sameEnds(before, after);
  const changed = before.slice(same.from, before.length - same.behind);
  if (TIED.test(after) || TIED.test(changed)) {
    return undefined;
  }
  const change = { from: same.from, to: after.length - same.behind };
  const top = entryAround(after, { from: 0, to: after.length }, 0, change, counts.top);
  if (!top || !holds(before, after, top, same.behind)) {
    return undefined;
  }
  const name = after.slice(top.from, after.indexOf('\n', top.from)).trimEnd();
  return (
    (/^jobs: *(#.*)?$/.test(name) && jobIn(before, after, top, same, counts.jobs)) ||
    entry(after, top, [])
  );
}

function jobIn(
  before: string,
  after: string,
  jobs: Part,
  same: { from: number; behind: number },
  count: number,
): Change | undefined {
  const inside = { from: after.indexOf('\n', jobs.from) + 1, to: jobs.to };
  const indent = /^ +(?=[^ #\n])/m.exec(after.slice(inside.from, inside.to))?.[0].length ?? 0;
  const change = { from: same.from, to: after.length - same.behind };
  const job =
    indent > 0 && same.from >= inside.from
      ? entryAround(after, inside, indent, change, count)
      : undefined;
  return job && holds(before, after, job, same.behind) ? entry(after, job, ['jobs']) : undefined;
}

/** How much two texts have in common at their beginning and, behind that, at their end. */
function sameEnds(before: string, after: string) {
  const most = Math.min(before.length, after.length);
  let from = 0;
  while (from < most && before.charCodeAt(from) === after.charCodeAt(from)) {
    from++;
  }
  let behind = 0;
  while (
    behind < most - from &&
    before.charCodeAt(before.length - 1 - behind) === after.charCodeAt(after.length - 1 - behind)
  ) {
    behind++;
  }
  return { from, behind };
}

/**
 * The lines of the entry of a block mapping, at an indentation, that a change is wholly in.
 *
 * @param count how many entries the mapping has
 */
function entryAround(
  text: string,
  within: Part,
  indent: number,
  change: Part,
  count: number,
): Part | undefined {
  const starts: number[] = [];
  for (let at = within.from; at < within.to;) {
    const next = text.indexOf('\n', at);
    const end = next < 0 || next >= within.to ? within.to : next + 1;
    let first = at;
    while (first < end && text[first] === ' ') {
      first++;
    }
    const isEmpty = first >= end || text[first] === '\n' || text[first] === '#';
    if (!isEmpty && first - at < indent) {
      return undefined;
    }
    if (!isEmpty && first - at === indent) {
      if (!PLAIN_KEY.test(text.slice(first, end))) {
        return undefined;
      }
      starts.push(at);
    }
    at = end;
  }
  const nth = starts.findIndex(
    (at, i) => at <= change.from && (starts[i + 1] ?? Infinity) > change.from,
  );
  const from = starts[nth];
  const to = starts[nth + 1] ?? within.to;
  const isInside = change.to < to || (change.to === to && to === within.to);
  return starts.length === count && from !== undefined && isInside ? { from, to } : undefined;
}

/** Whether an entry was one before as well, of the same first word, with the change inside it. */
function holds(before: string, after: string, part: Part, behind: number): boolean {
  const to = before.length - (after.length - part.to);
  const key = /^ *[^:\n]+:(?= |\n|$)/.exec(after.slice(part.from, part.to))?.[0];
  return (
    key !== undefined &&
    part.to >= after.length - behind &&
    to >= part.from + key.length &&
    before.startsWith(key, part.from) &&
    /^(?: |\n|$)/.test(before.slice(part.from + key.length, to) || '\n')
  );
}

/** The value of an entry, parsed by itself; undefined where it is more or less than one, or broken. */
function entry(text: string, part: Part, above: string[]): Change | undefined {
  const found = parseAllDocuments(text.slice(part.from, part.to));
  const doc = Array.isArray(found) && found.length === 1 ? found[0] : undefined;
  const pair = doc && isMap(doc.contents) ? doc.contents.items[0] : undefined;
  if (
    !doc ||
    doc.errors.length > 0 ||
    doc.warnings.length > 0 ||
    !isMap(doc.contents) ||
    doc.contents.items.length !== 1 ||
    !isScalar(pair?.key)
  ) {
    return undefined;
  }
  const key = String(pair.key.value);
  try {
    return { path: [...above, key], value: (doc.toJS() as Record<string, unknown>)[key] };
  } catch {
    return undefined; // an alias that leads to nothing
  }
}
