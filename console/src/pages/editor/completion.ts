import type { Completion, CompletionResult } from '@codemirror/autocomplete';

/** Names that stand in definitions, by what they are. */
export interface Names {
  jobs: string[];
  hosts: string[];
  groups: string[];
  calendars: string[];
  recipients: string[];
  capacities: string[];
  watches: string[];
  templates: string[];
  streams: string[];
  connections: string[];
}

export const NO_NAMES: Names = {
  jobs: [],
  hosts: [],
  groups: [],
  calendars: [],
  recipients: [],
  capacities: [],
  watches: [],
  templates: [],
  streams: [],
  connections: [],
};

/** A part of a JSON Schema, as far as it is needed here. */
export interface Shape {
  description?: string;
  type?: string | string[];
  enum?: unknown[];
  properties?: Record<string, Shape>;
  additionalProperties?: Shape | boolean;
  items?: Shape;
  anyOf?: Shape[];
  oneOf?: Shape[];
  required?: string[];
}

/** The keys above a place in a text, from the top; entries of lists are not among them. */
export function keysAbove(text: string, at: number): { path: string[]; inBraces: boolean } {
  const lines = text.slice(0, at).split('\n');
  const line = lines[lines.length - 1] ?? '';
  const path: string[] = [];
  const inner = bracesAt(line);
  let indent = indentOf(line);
  for (let i = lines.length - 2; i >= 0 && indent > 0; i--) {
    const one = lines[i] ?? '';
    if (/^(---|\.\.\.)/.test(one)) {
      break;
    }
    const key = /^(\s*(?:- )?)("[^"]*"|[^\s#:-][^:]*?)\s*:(?:\s|$)/.exec(one);
    const column = key?.[1]?.length ?? 0;
    if (key && column < indent) {
      path.unshift((key[2] ?? '').replace(/^"|"$/g, ''));
      indent = indentOf(one);
    }
  }
  return { path: [...path, ...inner], inBraces: inner.length > 0 };
}

function indentOf(line: string): number {
  return /^ */.exec(line)?.[0].length ?? 0;
}

/** The keys whose braces are open at the end of a line. */
function bracesAt(line: string): string[] {
  const open: string[] = [];
  const pattern = /"[^"]*"|([\w-]+)\s*:\s*(?=\{)|([{}])/g;
  let key = '';
  for (let one = pattern.exec(line); one; one = pattern.exec(line)) {
    if (one[1]) {
      key = one[1];
    } else if (one[2] === '{') {
      open.push(key);
      key = '';
    } else if (one[2] === '}') {
      open.pop();
    }
  }
  return open;
}

/** The part of a schema that a path leads to. */
export function shapeAt(schema: unknown, kind: string, path: string[]): Shape | undefined {
  const all = (schema as Shape | undefined)?.oneOf ?? [];
  let at: Shape | undefined = all.find((one) => one.properties?.[kind]);
  for (const key of path) {
    at = within(at, key);
  }
  return at;
}

function within(shape: Shape | undefined, key: string): Shape | undefined {
  const forms = [
    shape,
    shape?.items,
    ...(shape?.anyOf ?? []),
    ...(shape?.anyOf ?? []).map((one) => one.items),
  ];
  for (const one of forms) {
    const found = one?.properties?.[key];
    if (found) {
      return found;
    }
  }
  const rest = shape?.additionalProperties;
  return typeof rest === 'object' ? rest : undefined;
}

/** The keys that may stand in a mapping. */
export function keysOf(shape: Shape | undefined): Record<string, Shape> {
  const forms = [
    shape,
    shape?.items,
    ...(shape?.anyOf ?? []),
    ...(shape?.anyOf ?? []).map((one) => one.items),
  ];
  return forms.find((one) => one?.properties)?.properties ?? {};
}

/** What may stand as the value of a key, beside what the schema says. */
export function valuesOf(key: string, path: string[], names: Names): string[] {
  const own = names.jobs.map((name) => `${name} succeeded`);
  const files = names.watches.map((name) => `file ${name} arrived`);
  const ways: Record<string, string[]> = {
    host: [...names.hosts, ...names.groups.flatMap((one) => [`any of ${one}`, `each of ${one}`])],
    'waits-for': [...own, ...files],
    calendar: names.calendars,
    owner: names.recipients,
    'alerts-to': names.recipients,
    tell: names.recipients,
    'from-template': names.templates,
    file: names.watches,
    database: names.connections,
    zone: Intl.supportedValuesOf('timeZone'),
    days: [
      'every day',
      'weekdays',
      'business days',
      'last business day of month',
      '1st business day of month',
    ],
    'if-missed': ['run', 'run once', 'skip'],
  };
  return key === 'stream' && path.length > 0 ? names.streams : (ways[key] ?? []);
}

/** The kind of the document that a place of a text is in: its first key that names one. */
export function kindAt(text: string, at: number, schema: unknown): string {
  const start = Math.max(0, text.slice(0, at).search(/(?:^|\n)---[^\n]*\n(?![\s\S]*\n---)/));
  const kinds = ((schema as Shape | undefined)?.oneOf ?? []).flatMap((one) => one.required ?? []);
  const keys = [...text.slice(start).matchAll(/^([\w-]+):/gm)].map((one) => one[1] ?? '');
  return keys.find((key) => kinds.includes(key)) ?? 'stream';
}

/** What could stand at a place of a text. */
export function completions(
  text: string,
  at: number,
  schema: unknown,
  names: Names,
  asked: boolean,
): CompletionResult | null {
  const lineBegin = text.lastIndexOf('\n', at - 1) + 1;
  const line = text.slice(lineBegin, at);
  if (/(^|\s)#/.test(line)) {
    return null;
  }
  const { path } = keysAbove(text, at);
  const kind = kindAt(text, at, schema);
  const value = /(?:^|[\s{,])(?:- )?([\w-]+):\s+("?)([^"{},[\]]*)$/.exec(line);
  if (value) {
    return forValue(value[1] ?? '', value[3] ?? '', path, kind, at, schema, names);
  }
  const key = /^(?:\s*(?:- )?|.*[{,]\s*)([\w-]*)$/.exec(line);
  if (!key || (key[1] === '' && !asked)) {
    return null;
  }
  const shape = shapeAt(schema, kind, path);
  const required = new Set(shape?.required ?? []);
  const options: Completion[] = Object.entries(keysOf(shape)).map(([name, one]) => ({
    label: name,
    apply: `${name}: `,
    detail: required.has(name) ? 'must be there' : undefined,
    info: one.description,
    type: 'property',
  }));
  return options.length > 0 ? { from: at - (key[1] ?? '').length, options } : null;
}

function forValue(
  key: string,
  typed: string,
  path: string[],
  kind: string,
  at: number,
  schema: unknown,
  names: Names,
): CompletionResult | null {
  const shape = shapeAt(schema, kind, [...path, key]);
  const fixed = (shape?.enum ?? []).filter((one) => typeof one === 'string').map(String);
  const last =
    key === 'waits-for' ? /^(?:.*\b(?:and|or)\s+|.*\()?([^()]*)$/.exec(typed)?.[1] : typed;
  const options = [...fixed, ...valuesOf(key, path, names)].map((label) => ({
    label,
    type: 'constant',
    info: fixed.includes(label) ? undefined : shape?.description,
  }));
  return options.length > 0 ? { from: at - (last ?? typed).length, options } : null;
}
