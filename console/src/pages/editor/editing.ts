import { parse } from 'yaml';
import { begin as beginPast, changed, redone, undone, type Past } from './past';
import { arranged, kindOf, placed, shapesOf, type Arrow, type Spot } from './placing';
import {
  drawn,
  drawnAgain,
  freshName,
  KINDS,
  ownJob,
  saidOf,
  wayBetween,
  withInherited,
  withJob,
  withJobNamed,
  withoutJobs,
  withPlaces,
  withWaits,
  type DrawnStream,
} from './model';
import { renamed, term, withAsk, withOtherAsk, withoutAsk } from './waits';
import { CannotEdit, inFlow, withoutKey, withValue, type Path, type Plain } from './yamlText';

/** All that the editor knows: the text is the truth, and the picture follows from it. */
export interface Editing {
  past: Past;
  /** As of the last text that could be read. */
  stream: DrawnStream;
  /** The stream as templates fill it; nothing where none has a part in it. */
  filled?: DrawnStream;
  /** Keys that are other than in their template, such as `jobs.load.host`. */
  deviations: string[];
  /** What the picture shows: the stream, with what it has from templates. */
  seen: DrawnStream;
  /** Why the text cannot be read just now; empty where it can. */
  broken: string;
  brokenLine: number;
  ids: string[];
  arrows: Arrow[];
  spots: ReadonlyMap<string, Spot>;
  /** Files and jobs of other streams that were put into the picture and are not asked for yet. */
  beside: string[];
  chosen: string[];
  arrow: { to: string; nth: number } | null;
  /** What was copied: jobs by name. */
  clip: Record<string, Plain>;
  /** What there is to say of the last act: why it was refused, or what it did besides. */
  says: string;
}

export type Act =
  | { do: 'load'; text: string }
  | { do: 'type'; text: string; at: number }
  | { do: 'filled'; text: string; deviations: string[] }
  | { do: 'set'; path: Path; value: Plain | undefined; at: number }
  | { do: 'setJob'; job: string; key: string; value: Plain | undefined; at: number }
  | { do: 'undo' | 'redo' | 'arrange' | 'delete' | 'copy' | 'duplicate' | 'all' }
  | { do: 'choose'; ids: string[]; more?: boolean }
  | { do: 'chooseArrow'; to: string; nth: number }
  | { do: 'move'; by: Spot }
  | { do: 'join'; from: string; to: string; outcome?: string }
  | { do: 'outcome'; words: string }
  | { do: 'cut'; to: string; nth: number }
  | { do: 'add'; kind: string; after: string; template?: string }
  | { do: 'place'; id: string }
  | { do: 'paste'; text: string }
  | { do: 'rename'; from: string; to: string }
  | { do: 'say'; text: string };

const NOTHING = drawn('stream: x\njobs: {}\n');

const START: Editing = {
  past: beginPast(''),
  stream: NOTHING,
  seen: NOTHING,
  deviations: [],
  broken: '',
  brokenLine: 0,
  ids: [],
  arrows: [],
  spots: new Map(),
  beside: [],
  chosen: [],
  arrow: null,
  clip: {},
  says: '',
};

/** An editor on a text. */
export function begin(text: string): Editing {
  return read({ ...START, past: beginPast(text) }, new Map());
}

/** An editor on a text, with changes of before that were not saved: one step back undoes them. */
export function begunWith(text: string, unsaved: string): Editing {
  const first = begin(text);
  return unsaved === '' || unsaved === text
    ? first
    : {
        ...withText(first, unsaved),
        says: 'what you had not saved is here again; Undo takes it away',
      };
}

/** With the picture that follows from the text. */
function read(state: Editing, before: ReadonlyMap<string, Spot>, was = ''): Editing {
  const now = state.past.now;
  const stream =
    was !== '' && state.broken === '' ? drawnAgain(now, was, state.stream) : drawn(now);
  if (stream.broken) {
    return { ...state, broken: stream.broken, brokenLine: stream.line };
  }
  return seen({ ...state, stream }, before);
}

/** With the picture that follows from what was read. */
function seen(state: Editing, before: ReadonlyMap<string, Spot>): Editing {
  const whole = withInherited(state.stream, state.filled);
  const asked = shapesOf(whole, []);
  const beside = state.beside.filter((id) => !asked.ids.includes(id));
  const { ids, arrows } = shapesOf(whole, beside);
  const byHand = new Map(whole.jobs.flatMap((job) => (job.place ? [[job.name, job.place]] : [])));
  const known = new Set(ids);
  return {
    ...state,
    seen: whole,
    broken: '',
    brokenLine: 0,
    beside,
    ids,
    arrows,
    spots: placed(ids, arrows, byHand, before),
    chosen: state.chosen.filter((id) => known.has(id)),
    arrow:
      state.arrow && arrows.some((one) => one.to === state.arrow?.to && one.nth === state.arrow.nth)
        ? state.arrow
        : null,
  };
}

function withText(state: Editing, text: string, by = 'drawn', at = 0): Editing {
  return read({ ...state, past: changed(state.past, text, by, at) }, state.spots, state.past.now);
}

/** The next state; an edit that cannot be made changes nothing and says why. */
export function reduce(state: Editing, act: Act): Editing {
  try {
    return step({ ...state, says: '' }, act);
  } catch (e) {
    if (e instanceof CannotEdit) {
      return { ...state, says: e.message };
    }
    throw e;
  }
}

function step(state: Editing, act: Act): Editing {
  const { stream, past } = state;
  switch (act.do) {
    case 'load':
      return begin(act.text);
    case 'say':
      return { ...state, says: act.text };
    case 'filled':
      return filledWith(state, act.text, act.deviations);
    case 'type':
      return withText(state, act.text, 'typed', act.at);
    case 'undo':
      return read({ ...state, past: undone(past) }, state.spots);
    case 'redo':
      return read({ ...state, past: redone(past) }, state.spots);
    case 'set':
      return withText(state, valued(state, act.path, act.value), 'typed', act.at);
    case 'setJob':
      return withText(state, valued(state, ['jobs', act.job, act.key], act.value), 'typed', act.at);
    case 'choose':
      return { ...state, arrow: null, chosen: act.more ? toggled(state.chosen, act.ids) : act.ids };
    case 'all':
      return { ...state, arrow: null, chosen: state.ids };
    case 'chooseArrow':
      return { ...state, chosen: [], arrow: { to: act.to, nth: act.nth } };
    case 'move':
      return moved(state, act.by);
    case 'arrange':
      return arrangedAnew(state);
    case 'join':
      return joined(state, act.from, act.to, act.outcome ?? 'succeeded');
    case 'outcome':
      return otherOutcome(state, act.words);
    case 'cut':
      return withText(
        state,
        withWaits(past.now, stream, act.to, withoutAsk(job(state, act.to).waitsFor, act.nth)),
      );
    case 'delete':
      return deleted(state);
    case 'copy':
      return copied(state);
    case 'duplicate':
      return pasted(copied(state), '');
    case 'paste':
      return pasted(state, act.text);
    case 'add':
      return added(state, act.kind, act.after, act.template ?? '');
    case 'place':
      return state.ids.includes(act.id)
        ? { ...state, chosen: [act.id], arrow: null }
        : read({ ...state, beside: [...state.beside, act.id], chosen: [act.id] }, state.spots);
    case 'rename':
      return renamedJob(state, act.from, act.to);
  }
}

/** What templates make of the text; it changes the picture only. */
function filledWith(state: Editing, text: string, deviations: string[]): Editing {
  if (text === '') {
    return state.filled ? seen({ ...state, filled: undefined, deviations }, state.spots) : state;
  }
  const filled = drawn(text);
  return state.broken === ''
    ? seen({ ...state, filled, deviations }, state.spots)
    : { ...state, filled, deviations };
}

/** Jobs that only a template has cannot be taken away or renamed here. */
function refuseInherited(state: Editing, names: string[]) {
  const one = state.seen.jobs.find(
    (job) => names.includes(job.name) && isOfTemplate(state, job.name),
  );
  if (one) {
    throw new CannotEdit(
      `${one.name} comes from the template: change it there, or say something else of it here`,
    );
  }
}

/** Whether a job is in the template that the stream comes from, also where it is other here. */
export function isOfTemplate(state: Editing, name: string): boolean {
  return (
    typeof state.stream.value['from-template'] === 'string' &&
    (state.filled?.jobs.some((one) => one.name === name) ?? false) &&
    !state.deviations.includes(`jobs.${name}`)
  );
}

/**
 * What a template says of a key where the text does not, or that the text says something else; empty
 * where no template has a part in it.
 */
export function templateSays(state: Editing, path: string[]): string {
  if (state.deviations.includes(path.join('.'))) {
    return 'Other than its template; emptied, it is as there again.';
  }
  const at = (whole: unknown) =>
    path.reduce<unknown>(
      (value, key) =>
        value && typeof value === 'object' ? (value as Record<string, unknown>)[key] : undefined,
      whole,
    );
  const value = at(state.filled?.value);
  if (value === undefined || value === null || at(state.stream.value) !== undefined) {
    return '';
  }
  return `Its template says: ${typeof value === 'object' ? inFlow(value as Plain) : String(value)}.`;
}

function job(state: Editing, name: string) {
  const found = state.seen.jobs.find((one) => one.name === name);
  if (!found) {
    throw new CannotEdit(`there is no job ${name} in this stream`);
  }
  return found;
}

function valued(state: Editing, path: Path, value: Plain | undefined): string {
  const { now } = state.past;
  return value === undefined
    ? withoutKey(now, path, state.stream.index)
    : withValue(now, path, value, state.stream.index);
}

function toggled(chosen: string[], ids: string[]): string[] {
  const gone = new Set(ids.filter((id) => chosen.includes(id)));
  return [...chosen.filter((id) => !gone.has(id)), ...ids.filter((id) => !gone.has(id))];
}

/** Jobs keep their places in the text; what is outside of the stream keeps them while one looks. */
function moved(state: Editing, by: Spot): Editing {
  const spots = new Map(state.spots);
  const places = new Map<string, Spot>();
  for (const id of state.chosen) {
    const at = spots.get(id);
    if (at) {
      const to = { x: Math.round(at.x + by.x), y: Math.round(at.y + by.y) };
      spots.set(id, to);
      if (kindOf(state.seen, id) === 'job') {
        places.set(id, to);
      }
    }
  }
  const text = withPlaces(state.past.now, state.stream, places);
  return read({ ...state, past: changed(state.past, text, 'drawn', 0) }, spots);
}

function arrangedAnew(state: Editing): Editing {
  const text = withoutKey(state.past.now, ['places'], state.stream.index);
  const spots = arranged(state.ids, state.arrows);
  return { ...read({ ...state, past: changed(state.past, text, 'drawn', 0) }, spots), spots };
}

function inWords(way: string[]): string {
  return way
    .slice(1)
    .reduce((said, one, i) => `${said}${i ? ', which' : ''} waits for ${one}`, way[0] ?? '');
}

function joined(state: Editing, from: string, to: string, outcome: string): Editing {
  const stream = state.seen;
  if (kindOf(stream, to) !== 'job') {
    throw new CannotEdit(
      `${to} is not a job of this stream, and cannot be made to wait here: draw to one of its jobs`,
    );
  }
  if (from === to) {
    throw new CannotEdit('a job cannot wait for itself');
  }
  const waiting = job(state, to);
  if (waiting.unread) {
    throw new CannotEdit(
      `what ${to} waits for cannot be read (${waiting.unread}): mend that first`,
    );
  }
  const way = kindOf(stream, from) === 'job' ? wayBetween(stream, from, to) : [];
  if (way.length > 0) {
    throw new CannotEdit(`${to} cannot wait for ${from}: ${inWords(way)}; that would be a circle`);
  }
  const there = state.arrows.find((one) => one.from === from && one.to === to);
  if (there) {
    return {
      ...state,
      chosen: [],
      arrow: { to, nth: there.nth },
      says: `${to} waits for it already`,
    };
  }
  const kind = kindOf(stream, from) === 'file' ? 'file' : 'job';
  const on = kind === 'file' ? from.slice('file '.length) : from;
  const words = withAsk(waiting.waitsFor, term(kind, on, outcome));
  const done = withText(state, withWaits(state.past.now, stream, to, words));
  return { ...done, chosen: [], arrow: { to, nth: waiting.asks.length } };
}

function otherOutcome(state: Editing, words: string): Editing {
  if (!state.arrow) {
    return state;
  }
  const waiting = job(state, state.arrow.to);
  const ask = waiting.asks[state.arrow.nth];
  if (!ask) {
    return state;
  }
  const changedTo =
    ask.kind === 'value' || words.startsWith('value ')
      ? words.replace(/^value (\S+) /, `value $1 of ${ask.on} `)
      : term('job', ask.on, words);
  return withText(
    state,
    withWaits(
      state.past.now,
      state.stream,
      waiting.name,
      withOtherAsk(waiting.waitsFor, state.arrow.nth, changedTo),
    ),
  );
}

function deleted(state: Editing): Editing {
  if (state.arrow) {
    const { to, nth } = state.arrow;
    return step({ ...state, arrow: null }, { do: 'cut', to, nth });
  }
  const jobs = state.chosen.filter((id) => kindOf(state.seen, id) === 'job');
  refuseInherited(state, jobs);
  const others = state.chosen.filter((id) => !jobs.includes(id));
  const freed = state.arrows.filter((one) => jobs.includes(one.from) && !jobs.includes(one.to));
  let text = state.past.now;
  let now = state.stream;
  for (const id of others) {
    for (const arrow of [...state.arrows].reverse().filter((one) => one.from === id)) {
      const waiting = now.jobs.find((one) => one.name === arrow.to);
      if (waiting) {
        text = withWaits(text, now, waiting.name, withoutAsk(waiting.waitsFor, arrow.nth));
        now = drawn(text);
      }
    }
  }
  text = withoutJobs(text, now, jobs);
  const beside = state.beside.filter((id) => !state.chosen.includes(id));
  const done = withText({ ...state, beside, chosen: [] }, text);
  const names = [...new Set(freed.map((one) => one.to))];
  return {
    ...done,
    says: names.length > 0 ? `${names.join(', ')} waited for it, and wait for it no more` : '',
  };
}

function copied(state: Editing): Editing {
  const whole = parse(state.past.now.split(/^---/m)[state.stream.index] ?? '') as {
    jobs?: Record<string, Plain>;
  } | null;
  const clip: Record<string, Plain> = {};
  for (const id of state.chosen) {
    const value =
      state.filled && isOfTemplate(state, id)
        ? (saidOf(state.filled, id) as Plain)
        : whole?.jobs?.[id];
    if (value !== undefined) {
      clip[id] = value;
    }
  }
  const many = Object.keys(clip).length;
  return many === 0
    ? { ...state, says: 'choose jobs to copy first' }
    : { ...state, clip, says: `${many} copied` };
}

/** What was copied here, or elsewhere as YAML; names that are taken get a number. */
function pasted(state: Editing, text: string): Editing {
  const jobs = text.trim() === '' ? state.clip : jobsIn(text);
  if (Object.keys(jobs).length === 0) {
    throw new CannotEdit('there is nothing to paste: copy jobs first');
  }
  const names = new Map<string, string>();
  let now = state.past.now;
  let stream = state.seen;
  for (const name of Object.keys(jobs)) {
    const fresh = freshName(stream, name);
    names.set(name, fresh);
    stream = { ...stream, jobs: [...stream.jobs, { ...EMPTY_JOB, name: fresh }] };
  }
  stream = state.stream;
  for (const [name, value] of Object.entries(jobs)) {
    const copy = { ...(value as Record<string, Plain>) };
    const waits = copy['waits-for'];
    if (typeof waits === 'string') {
      copy['waits-for'] = renamed(waits, (on, kind) =>
        kind === 'file' ? on : (names.get(ownJob(state.seen, on) || on) ?? on),
      );
    }
    now = withJob(now, stream, names.get(name) ?? name, copy);
    stream = drawn(now);
  }
  const done = withText(state, now);
  return { ...done, chosen: [...names.values()], arrow: null };
}

const EMPTY_JOB = { name: '', title: '', kind: '', waitsFor: '', asks: [], unread: '' };

function jobsIn(text: string): Record<string, Plain> {
  try {
    const found = parse(text) as { jobs?: Record<string, Plain> } | null;
    return found && typeof found === 'object' && found.jobs ? found.jobs : {};
  } catch {
    return {};
  }
}

/** Names that a new job of a kind begins with. */
const FIRST_NAMES: Record<string, string> = {
  run: 'new-job',
  approve: 'question',
  stream: 'step',
  sql: 'statement',
  'from-template': 'from-template',
};

function added(state: Editing, kind: string, after: string, template: string): Editing {
  const name = freshName(state.seen, FIRST_NAMES[kind] ?? kind);
  const value: Record<string, Plain> = { [kind]: template || (KINDS[kind]?.begin ?? '') };
  if (after) {
    value['waits-for'] = term('job', after);
  }
  const done = withText(state, withJob(state.past.now, state.stream, name, value));
  return { ...done, chosen: [name], arrow: null };
}

function renamedJob(state: Editing, from: string, to: string): Editing {
  refuseInherited(state, [from]);
  const text = withJobNamed(state.past.now, state.stream, from, to);
  const spots = new Map(state.spots);
  const at = spots.get(from);
  if (at) {
    spots.set(to, at);
  }
  const done = read({ ...state, past: changed(state.past, text, 'drawn', 0) }, spots);
  return { ...done, chosen: [to] };
}
