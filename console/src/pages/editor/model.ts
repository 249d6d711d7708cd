import { isMap } from 'yaml';
import { changeIn } from './changeIn';
import { asks, NotAPrerequisite, renamed, withoutAsk, type Ask } from './waits';
import {
  CannotEdit,
  documents,
  valueAt,
  withKey,
  withoutKey,
  withValue,
  type Path,
  type Plain,
} from './yamlText';

/** What a job does, by the key that says so. */
export const KINDS: Record<string, { name: string; begin: Plain; about: string }> = {
  run: { name: 'Command', begin: '', about: 'A command on a host' },
  approve: { name: 'Question', begin: '', about: 'A person says yes before what follows starts' },
  stream: { name: 'Stream as a step', begin: '', about: 'All of another stream' },
  sql: { name: 'Statement', begin: '', about: 'SQL in a database' },
  call: { name: 'Remote call', begin: '', about: 'Work of a remote service' },
  transfer: { name: 'Transfer', begin: {}, about: 'Files from one place to another' },
  mail: { name: 'Mail', begin: {}, about: 'A message with files' },
  container: { name: 'Container', begin: {}, about: 'A container in a cluster' },
  parts: { name: 'Parts', begin: [], about: 'One piece of work for each of a list' },
  'from-template': { name: 'From a template', begin: '', about: 'What a template makes' },
};

/** A job as the picture shows it. */
export interface DrawnJob {
  name: string;
  title: string;
  /** The key that says what it does; empty while none does. */
  kind: string;
  waitsFor: string;
  asks: Ask[];
  /** Why its prerequisite cannot be read; empty where it can. */
  unread: string;
  place?: { x: number; y: number };
  /** Whether only a template says it: it is changed by saying something else of it here. */
  inherited?: boolean;
}

/** A stream as its text says, as far as that can be read. */
export interface DrawnStream {
  /** Which document of the text it is. */
  index: number;
  path: string;
  title: string;
  jobs: DrawnJob[];
  /** All of it, as its keys and values. */
  value: Record<string, unknown>;
  /** Why the text cannot be read; empty where it can. */
  broken: string;
  line: number;
}

const EMPTY: DrawnStream = {
  index: 0,
  path: '',
  title: '',
  jobs: [],
  value: {},
  broken: '',
  line: 0,
};

function text(value: unknown): string {
  return value === null || value === undefined || typeof value === 'object' ? '' : String(value);
}

/** Reads the first stream, or stream template, of a text, or the one of a name. */
export function drawn(source: string, wanted = ''): DrawnStream {
  const all = documents(source);
  const broken = all.find((doc) => doc.errors.length > 0)?.errors[0];
  const index = all.findIndex(
    (doc) =>
      isMap(doc.contents) &&
      (wanted ? text(valueAt(doc, ['stream'])) === wanted : doc.contents.has('stream')),
  );
  const doc = all[index];
  if (broken || !doc) {
    const said = broken?.message.split('\n')[0] ?? '';
    const why = broken
      ? said.replace(/ at line \d+, column \d+:?$/, '')
      : 'there is no stream in it';
    return { ...EMPTY, broken: why, line: broken?.linePos?.[0].line ?? 0 };
  }
  try {
    return ofValue(doc.toJS() as Record<string, unknown>, index);
  } catch {
    return { ...EMPTY, broken: 'an alias in it (*name) leads to nothing, or to too much' };
  }
}

function partOf(value: Record<string, unknown>, key: string): Record<string, unknown> {
  const part = value[key];
  return part && typeof part === 'object' ? (part as Record<string, unknown>) : {};
}

/** A stream of its keys and values; jobs that are as they were before are the same objects. */
function ofValue(
  value: Record<string, unknown>,
  index: number,
  before: DrawnStream = EMPTY,
): DrawnStream {
  const places = partOf(value, 'places');
  const jobsBefore = partOf(before.value, 'jobs');
  const placesBefore = partOf(before.value, 'places');
  const known = new Map(before.jobs.map((one) => [one.name, one]));
  return {
    index,
    path: text(value['stream']),
    title: text(value['title']) || text(value['stream']),
    broken: '',
    line: 0,
    value,
    jobs: Object.entries(partOf(value, 'jobs')).map(([name, one]) => {
      const same = jobsBefore[name] === one && placesBefore[name] === places[name];
      const was = same ? known.get(name) : undefined;
      return was ?? job(name, partOf({ one }, 'one'), places[name]);
    }),
  };
}

/**
 * Reads a text again after a change to it: of a long one only the key, or the job, that the change
 * is in. What comes out is what reading all of it gives.
 *
 * @param source the text as it is now
 * @param before the text as it was, which could be read
 * @param was what was read of it
 */
export function drawnAgain(source: string, before: string, was: DrawnStream): DrawnStream {
  const counts = {
    top: Object.keys(was.value).length,
    jobs: Object.keys(partOf(was.value, 'jobs')).length,
  };
  const change = was.broken === '' ? changeIn(before, source, counts) : undefined;
  if (!change) {
    return drawn(source);
  }
  const { path, value } = change;
  const top = path[0] ?? '';
  const below = path[1];
  const next = below === undefined ? value : { ...partOf(was.value, top), [below]: value };
  return ofValue({ ...was.value, [top]: next }, was.index, was);
}

function job(name: string, value: Record<string, unknown>, place: unknown): DrawnJob {
  const waitsFor = text(value['waits-for']);
  let found: Ask[] = [];
  let unread = '';
  try {
    found = asks(waitsFor);
  } catch (e) {
    if (!(e instanceof NotAPrerequisite)) {
      throw e;
    }
    unread = e.message;
  }
  const at = /^(-?\d{1,6}) +(-?\d{1,6})$/.exec(text(place).trim());
  return {
    name,
    title: text(value['title']) || name,
    kind: Object.keys(KINDS).find((key) => key in value) ?? '',
    waitsFor,
    asks: found,
    unread,
    place: at ? { x: Number(at[1]), y: Number(at[2]) } : undefined,
  };
}

/** What the text says of a job; nothing where only a template has it. */
export function saidOf(stream: DrawnStream, name: string): Record<string, unknown> {
  return partOf(partOf(stream.value, 'jobs'), name);
}

/** A stream with the jobs that its templates put into it, under what its own text says. */
export function withInherited(own: DrawnStream, filled: DrawnStream | undefined): DrawnStream {
  if (!filled || filled.path !== own.path || filled.broken !== '') {
    return own;
  }
  const known = new Map(own.jobs.map((one) => [one.name, one]));
  const before = filled.jobs.map((one): DrawnJob => {
    const mine = known.get(one.name);
    if (!mine) {
      return { ...one, inherited: true };
    }
    const says = saidOf(own, one.name);
    return {
      ...one,
      title: 'title' in says ? mine.title : one.title,
      kind: mine.kind || one.kind,
      place: mine.place ?? one.place,
      ...('waits-for' in says
        ? { waitsFor: mine.waitsFor, asks: mine.asks, unread: mine.unread }
        : {}),
    };
  });
  const there = new Set(before.map((one) => one.name));
  return { ...own, jobs: [...before, ...own.jobs.filter((one) => !there.has(one.name))] };
}

/** The job of the stream itself that a name means; empty where it means another's. */
export function ownJob(stream: DrawnStream, on: string): string {
  const name = on.startsWith(`${stream.path}/`) ? on.slice(stream.path.length + 1) : on;
  return stream.jobs.some((one) => one.name === name) ? name : '';
}

/** A name that no job of the stream has. */
export function freshName(stream: DrawnStream, like: string): string {
  const taken = new Set(stream.jobs.map((one) => one.name));
  const stem = like.replace(/-\d+$/, '');
  let name = like;
  for (let i = 2; taken.has(name); i++) {
    name = `${stem}-${i}`;
  }
  return name;
}

/**
 * Jobs through which one waits for another, in their order; empty where it does not. What would
 * wait for it too would close a circle.
 */
export function wayBetween(stream: DrawnStream, from: string, to: string): string[] {
  const byName = new Map(stream.jobs.map((one) => [one.name, one]));
  const before = new Map<string, string>([[from, '']]);
  const open = [from];
  for (let at = open.shift(); at !== undefined; at = open.shift()) {
    if (at === to) {
      const way = [];
      for (let one = at; one !== ''; one = before.get(one) ?? '') {
        way.unshift(one);
      }
      return way;
    }
    for (const ask of byName.get(at)?.asks ?? []) {
      const next = ask.kind === 'file' ? '' : ownJob(stream, ask.on);
      if (next && !before.has(next) && !/previous business date/.test(ask.words)) {
        before.set(next, at);
        open.push(next);
      }
    }
  }
  return [];
}

function jobPath(name: string, ...more: string[]): Path {
  return ['jobs', name, ...more];
}

/** The text with other words of what a job waits for. */
export function withWaits(
  source: string,
  stream: DrawnStream,
  name: string,
  words: string,
): string {
  return words === ''
    ? withoutKey(source, jobPath(name, 'waits-for'), stream.index)
    : withValue(source, jobPath(name, 'waits-for'), words, stream.index);
}

/** The text with a new job. */
export function withJob(source: string, stream: DrawnStream, name: string, value: Plain): string {
  if (stream.jobs.length === 0) {
    return withValue(
      withoutKey(source, ['jobs'], stream.index),
      ['jobs'],
      { [name]: value },
      stream.index,
    );
  }
  return withValue(source, ['jobs', name], value, stream.index);
}

/** The text without some jobs: what others asked of them goes with them, and so do their places. */
export function withoutJobs(source: string, stream: DrawnStream, names: string[]): string {
  let out = source;
  for (const one of stream.jobs.filter((other) => !names.includes(other.name))) {
    const left = withoutAsksOf(stream, one, names);
    if (left !== one.waitsFor) {
      out = withWaits(out, stream, one.name, left);
    }
  }
  for (const name of names) {
    out = withoutKey(withoutKey(out, ['places', name], stream.index), ['jobs', name], stream.index);
  }
  return out;
}

function withoutAsksOf(stream: DrawnStream, one: DrawnJob, names: string[]): string {
  let words = one.waitsFor;
  for (let nth = one.asks.length - 1; nth >= 0; nth--) {
    const ask = one.asks[nth];
    if (ask && ask.kind !== 'file' && names.includes(ownJob(stream, ask.on))) {
      words = withoutAsk(words, nth);
    }
  }
  return words;
}

/** The text with another name of a job, wherever its stream names it. */
export function withJobNamed(
  source: string,
  stream: DrawnStream,
  name: string,
  to: string,
): string {
  if (to === name) {
    return source;
  }
  if (!/^[a-z0-9][a-z0-9._-]*$/.test(to)) {
    throw new CannotEdit(`"${to}" is not a valid name: small letters, digits, and . _ - within`);
  }
  if (stream.jobs.some((one) => one.name === to)) {
    throw new CannotEdit(`there is a job ${to} in this stream already`);
  }
  let out = source;
  for (const one of stream.jobs.filter((other) => other.waitsFor && !other.unread)) {
    const words = renamed(one.waitsFor, (on, kind) =>
      kind === 'file' || ownJob(stream, on) !== name
        ? on
        : on === name
          ? to
          : `${stream.path}/${to}`,
    );
    if (words !== one.waitsFor) {
      out = withWaits(out, stream, one.name, words);
    }
  }
  const placed = withKey(out, ['places', name], to, stream.index);
  return withKey(placed, ['jobs', name], to, stream.index);
}

/** The text with places of jobs. */
export function withPlaces(
  source: string,
  stream: DrawnStream,
  places: Map<string, { x: number; y: number }>,
): string {
  const written = (one: { x: number; y: number }) => `${Math.round(one.x)} ${Math.round(one.y)}`;
  const all = [...places.entries()];
  if (all.length === 1 && all[0]) {
    const [name, one] = all[0];
    return withValue(source, ['places', name], written(one), stream.index);
  }
  const merged: Record<string, Plain> = {};
  stream.jobs.forEach((job) => {
    const at = places.get(job.name) ?? job.place;
    if (at) {
      merged[job.name] = written(at);
    }
  });
  return all.length === 0 ? source : withValue(source, ['places'], merged, stream.index);
}
