import {
  Document,
  isAlias,
  isMap,
  isPair,
  isScalar,
  isSeq,
  parseAllDocuments,
  visit,
  type Node,
  type Pair,
  type Scalar,
  type YAMLMap,
} from 'yaml';

/** A value that can stand in a definition. */
export type Plain = string | number | boolean | null | Plain[] | { [key: string]: Plain };

/** Where something stands: keys from the top of a document, and numbers in lists. */
export type Path = readonly (string | number)[];

/** An edit that cannot be made in the text as it is written; it says why. */
export class CannotEdit extends Error {}

type Doc = ReturnType<typeof parseAllDocuments>[number];

/** The documents of a text; a broken one has errors, and what could be read of it. */
export function documents(text: string): Doc[] {
  const found = parseAllDocuments(text, { prettyErrors: true });
  return Array.isArray(found) ? (found as Doc[]) : [];
}

/** What stands at a path; undefined for nothing. */
export function valueAt(doc: Doc | undefined, path: Path): unknown {
  if (!doc) {
    return undefined;
  }
  const found = doc.getIn(path, true);
  return isNode(found) ? found.toJS(doc) : found;
}

function isNode(one: unknown): one is Node {
  return isMap(one) || isSeq(one) || isScalar(one) || isAlias(one);
}

interface Splice {
  from: number;
  to: number;
  text: string;
}

function spliced(text: string, splice: Splice): string {
  return text.slice(0, splice.from) + splice.text + text.slice(splice.to);
}

function lineStart(text: string, at: number): number {
  return text.lastIndexOf('\n', at - 1) + 1;
}

/** The start of the next line, or the end of the text. */
function lineEnd(text: string, at: number): number {
  const next = text.indexOf('\n', at);
  return next < 0 ? text.length : next + 1;
}

function keyOf(pair: Pair): string {
  return isScalar(pair.key) ? String(pair.key.value) : '';
}

/** Entries are looked for through the documents again and again: once a map will do. */
const indexes = new WeakMap<YAMLMap, Map<string, Pair>>();

function pairIn(map: YAMLMap, key: string | number): Pair | undefined {
  let index = indexes.get(map);
  if (!index) {
    index = new Map(map.items.filter(isPair).map((pair) => [keyOf(pair), pair]));
    indexes.set(map, index);
  }
  return index.get(String(key));
}

/** The mapping at a path; undefined where there is none or nothing in it. */
function mapAt(doc: Doc, path: Path): YAMLMap | undefined {
  let node: unknown = doc.contents;
  for (const key of path) {
    if (isAlias(node)) {
      throw new CannotEdit(`${path.join('.')} is written through an alias: change it in the text`);
    }
    if (isMap(node)) {
      node = pairIn(node, key)?.value;
    } else if (isSeq(node)) {
      node = node.items[Number(key)];
    } else {
      return undefined;
    }
  }
  if (isAlias(node)) {
    throw new CannotEdit(`${path.join('.')} is written through an alias: change it in the text`);
  }
  return isMap(node) ? node : undefined;
}

function rangeOf(node: unknown): [number, number, number] {
  const range = isNode(node) ? node.range : undefined;
  if (!range) {
    throw new CannotEdit('this place of the text cannot be edited here: change it in the text');
  }
  return range;
}

/** Where the value of a pair ends, or its key where it has none. */
function endOf(pair: Pair): number {
  const value = isNode(pair.value) && pair.value.range ? pair.value.range[1] : 0;
  return Math.max(value, rangeOf(pair.key)[1]);
}

/** A value on one line. */
export function inFlow(value: Plain): string {
  const doc = new Document({ k: value });
  visit(doc, {
    Collection: (_, node) => {
      node.flow = true;
    },
    Scalar: (key, node) => {
      if (key !== 'key' && typeof node.value === 'string' && node.value.includes('\n')) {
        node.type = 'QUOTE_DOUBLE';
      }
    },
  });
  const written = doc.toString({ lineWidth: 0, flowCollectionPadding: true }).trim();
  return written.replace(/^\{ *"?k"?: */, '').replace(/ *\}$/, '');
}

/** A plain value by itself: it may stand without quotes where it could not within braces. */
function alone(value: Plain): string {
  if (typeof value !== 'string') {
    return inFlow(value);
  }
  const doc = new Document({ k: value });
  const node = doc.get('k', true);
  if (isScalar(node) && value.includes('\n')) {
    node.type = 'QUOTE_DOUBLE';
  }
  return doc.toString({ lineWidth: 0 }).slice('k:'.length).trim();
}

/** The lines of an entry at an indentation: mappings down to a depth in blocks, the rest on a line. */
function inBlock(key: string, value: Plain, indent: string, depth: number): string {
  const name = alone(key);
  if (typeof value === 'string' && value.trimEnd().includes('\n') && !/^\s/.test(value)) {
    const lines = value.replace(/\n$/, '').split('\n');
    const chomp = value.endsWith('\n') ? '|' : '|-';
    const body = lines.map((line) => (line === '' ? '' : `${indent}  ${line}`)).join('\n');
    return `${indent}${name}: ${chomp}\n${body}\n`;
  }
  if (depth > 0 && value !== null && typeof value === 'object' && !Array.isArray(value)) {
    const entries = Object.entries(value);
    if (entries.length > 0) {
      const below = entries.map(([inner, one]) => inBlock(inner, one, `${indent}  `, depth - 1));
      return `${indent}${name}:\n${below.join('')}`;
    }
  }
  return `${indent}${name}: ${alone(value)}\n`;
}

/** How deep values are written in blocks, by how far below the top their key stands. */
function depthAt(path: Path): number {
  const depths: Record<string, number> = { jobs: 2, places: 1, schedule: 1 };
  return path[0] === 'jobs' && path.length === 2
    ? 1
    : path.length === 1
      ? (depths[String(path[0])] ?? 0)
      : 0;
}

/** The document that is edited; a text without any is given one. */
function chosen(text: string, index: number): Doc {
  const doc = documents(text)[index];
  if (!doc) {
    throw new CannotEdit('there is no such document in the text');
  }
  if (doc.errors.length > 0) {
    throw new CannotEdit('the text has an error: mend it first, then go on in the picture');
  }
  return doc;
}

/**
 * The text with a value at a path: lines that this does not concern stay as they are, byte for byte.
 *
 * @throws CannotEdit where the text is broken or the place is written through an alias
 */
export function withValue(text: string, path: Path, value: Plain, index = 0): string {
  const doc = chosen(text, index);
  return spliced(text, splice(text, doc, path, value));
}

function splice(text: string, doc: Doc, path: Path, value: Plain): Splice {
  const above = path.slice(0, -1);
  const key = path[path.length - 1] ?? '';
  const map = mapAt(doc, above);
  if (!map) {
    if (above.length === 0) {
      const at = doc.contents ? rangeOf(doc.contents)[0] : text.length;
      const before = at > 0 && text[at - 1] !== '\n' ? '\n' : '';
      return { from: at, to: at, text: before + inBlock(String(key), value, '', depthAt(path)) };
    }
    return splice(text, doc, above, { [String(key)]: value });
  }
  const pair = pairIn(map, key);
  if (pair) {
    return changed(text, map, pair, value, path);
  }
  return added(text, map, String(key), value, path);
}

function changed(text: string, map: YAMLMap, pair: Pair, value: Plain, path: Path): Splice {
  const node = pair.value;
  const plain = value === null || typeof value !== 'object';
  const oneLine = !(typeof value === 'string' && value.includes('\n'));
  if (isAlias(node)) {
    throw new CannotEdit(`${path.join('.')} is written through an alias: change it in the text`);
  }
  if (isScalar(node) && plain && oneLine && !String(node.type).startsWith('BLOCK')) {
    const [from, to] = rangeOf(node);
    const written = map.flow ? inFlow(value) : quotedAs(node, value);
    const space = from > 0 && text[from - 1] === ':' ? ' ' : '';
    return { from, to, text: space + written };
  }
  if (map.flow) {
    const from = rangeOf(pair.key)[1];
    return { from, to: Math.max(endOf(pair), from), text: `: ${inFlow(value)}` };
  }
  if ((isMap(node) || isSeq(node)) && node.flow && !plain) {
    const [from, to] = rangeOf(node);
    return { from, to, text: inFlow(value) };
  }
  const start = rangeOf(pair.key)[0];
  const indent = text.slice(lineStart(text, start), start);
  const whole = inBlock(keyOf(pair), value, indent, depthAt(path)).slice(indent.length);
  return { from: start, to: endOfEntry(text, pair), text: whole };
}

/** A text value keeps the quotes it has, where it had some. */
function quotedAs(node: Scalar, value: Plain): string {
  if (typeof value === 'string' && node.type === 'QUOTE_DOUBLE') {
    return JSON.stringify(value);
  }
  return typeof value === 'string' && node.type === 'QUOTE_SINGLE' && !value.includes('\n')
    ? `'${value.replace(/'/g, "''")}'`
    : alone(value);
}

/** The start of the line after an entry of a block. */
function endOfEntry(text: string, pair: Pair): number {
  const end = endOf(pair);
  return end > 0 && text[end - 1] === '\n' ? end : lineEnd(text, end);
}

function added(text: string, map: YAMLMap, key: string, value: Plain, path: Path): Splice {
  const last = map.items[map.items.length - 1];
  if (map.flow) {
    const entry = `${alone(key)}: ${inFlow(value)}`;
    const [start, end] = rangeOf(map);
    if (!last) {
      return { from: start, to: end, text: `{ ${entry} }` };
    }
    const at = Math.max(endOf(last), rangeOf(last.key)[1]);
    return { from: at, to: at, text: `, ${entry}` };
  }
  if (!last) {
    throw new CannotEdit(`${path.join('.')} cannot be added here: change it in the text`);
  }
  const start = rangeOf(last.key)[0];
  const indent = text.slice(lineStart(text, start), start);
  const at = endOfEntry(text, last);
  const before = at > 0 && text[at - 1] !== '\n' ? '\n' : '';
  return { from: at, to: at, text: before + inBlock(key, value, indent, depthAt(path)) };
}

/**
 * The text without a key; the same text where it is not there. A mapping that becomes empty goes
 * with its last key, except jobs.
 */
export function withoutKey(text: string, path: Path, index = 0): string {
  const doc = chosen(text, index);
  const above = path.slice(0, -1);
  const map = mapAt(doc, above);
  const pair = map && pairIn(map, path[path.length - 1] ?? '');
  if (!map || !pair) {
    return text;
  }
  if (map.items.length === 1 && above.length > 0) {
    return above.length === 1 && above[0] === 'jobs'
      ? withValue(text, above, {}, index)
      : withoutKey(text, above, index);
  }
  const at = map.items.indexOf(pair);
  if (map.flow) {
    const next = map.items[at + 1];
    const before = map.items[at - 1];
    const from = before ? endOf(before) : rangeOf(pair.key)[0];
    const to = before ? endOf(pair) : next ? rangeOf(next.key)[0] : endOf(pair);
    return spliced(text, { from, to, text: '' });
  }
  const from = lineStart(text, rangeOf(pair.key)[0]);
  return spliced(text, { from, to: endOfEntry(text, pair), text: '' });
}

/** The text with another name of a key; the same text where it is not there. */
export function withKey(text: string, path: Path, name: string, index = 0): string {
  const doc = chosen(text, index);
  const map = mapAt(doc, path.slice(0, -1));
  const pair = map && pairIn(map, path[path.length - 1] ?? '');
  if (!map || !pair) {
    return text;
  }
  const [from, to] = rangeOf(pair.key);
  return spliced(text, { from, to, text: alone(name) });
}

/** The text with one more item at the end of a list; the list is made where there is none. */
export function withItem(text: string, path: Path, value: Plain, index = 0): string {
  const doc = chosen(text, index);
  const list = doc.getIn(path, true);
  if (!isSeq(list) || list.items.length === 0) {
    return withValue(text, path, [value], index);
  }
  const last = list.items[list.items.length - 1];
  const [from, end] = rangeOf(last);
  if (list.flow) {
    return spliced(text, { from: end, to: end, text: `, ${inFlow(value)}` });
  }
  const start = lineStart(text, rangeOf(last)[0]);
  const dash = /^(\s*)-(\s+)/.exec(text.slice(start, from + 1));
  if (!dash) {
    throw new CannotEdit(`${path.join('.')} cannot be added to here: change it in the text`);
  }
  const at = end > 0 && text[end - 1] === '\n' ? end : lineEnd(text, end);
  const before = at > 0 && text[at - 1] !== '\n' ? '\n' : '';
  return spliced(text, {
    from: at,
    to: at,
    text: `${before}${dash[1]}-${dash[2]}${inFlow(value)}\n`,
  });
}

/** The text without an item of a list; a list that becomes empty goes with its last one. */
export function withoutItem(text: string, path: Path, nth: number, index = 0): string {
  const doc = chosen(text, index);
  const list = doc.getIn(path, true);
  const item = isSeq(list) ? list.items[nth] : undefined;
  if (!isSeq(list) || item === undefined) {
    return text;
  }
  if (list.items.length === 1) {
    return withoutKey(text, path, index);
  }
  const [from, end] = rangeOf(item);
  if (list.flow) {
    const before = list.items[nth - 1];
    const next = list.items[nth + 1];
    const cut = before ? [rangeOf(before)[1], end] : [from, next ? rangeOf(next)[0] : end];
    return spliced(text, { from: cut[0] ?? from, to: cut[1] ?? end, text: '' });
  }
  const to = end > 0 && text[end - 1] === '\n' ? end : lineEnd(text, end);
  return spliced(text, { from: lineStart(text, from), to, text: '' });
}

/** Where a key stands, in characters from the beginning of the text; -1 where it does not. */
export function whereIs(text: string, path: Path, index = 0): number {
  const doc = documents(text)[index];
  const map = doc && mapAt(doc, path.slice(0, -1));
  const pair = map && pairIn(map, path[path.length - 1] ?? '');
  return pair ? rangeOf(pair.key)[0] : -1;
}
