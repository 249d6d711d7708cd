import { layout, NODE_HEIGHT, NODE_WIDTH } from '../streams/layout';
import type { DrawnStream } from './model';
import { ownJob } from './model';

export interface Spot {
  x: number;
  y: number;
}

/** Something in the picture: a job, or what is outside the stream. */
export interface Shape {
  /** A job's name; else {@code file NAME} or the path of another stream's job. */
  id: string;
  kind: 'job' | 'file' | 'other';
  at: Spot;
}

/** An arrow: which of the things that a job asks for it shows. */
export interface Arrow {
  from: string;
  to: string;
  nth: number;
  label: string;
  alternative: boolean;
}

export const APART = { x: 104, y: 22 };

/** All that is in the picture of a stream, without where it stands. */
export function shapesOf(
  stream: DrawnStream,
  beside: string[],
): { ids: string[]; arrows: Arrow[] } {
  const ids = new Set(stream.jobs.map((job) => job.name));
  const arrows: Arrow[] = [];
  for (const job of stream.jobs) {
    job.asks.forEach((ask, nth) => {
      const from = ask.kind === 'file' ? `file ${ask.on}` : ownJob(stream, ask.on) || ask.on;
      ids.add(from);
      const words = ask.words === 'succeeded' || ask.kind === 'file' ? '' : ask.words;
      arrows.push({
        from,
        to: job.name,
        nth,
        label: `${ask.not ? 'not ' : ''}${words || (ask.not ? ask.words : '')}`,
        alternative: ask.alternative,
      });
    });
  }
  beside.forEach((id) => ids.add(id));
  return { ids: [...ids], arrows };
}

/** The kind of a shape by its id. */
export function kindOf(stream: DrawnStream, id: string): Shape['kind'] {
  return id.startsWith('file ')
    ? 'file'
    : stream.jobs.some((one) => one.name === id)
      ? 'job'
      : 'other';
}

/** Above this many, an arrangement that is drawn with care takes seconds. */
const FEW = 60;

/** All by itself, from left to right. */
export function arranged(ids: string[], arrows: Arrow[]): Map<string, Spot> {
  if (ids.length > FEW) {
    return inColumns(ids, arrows);
  }
  const nodes = ids.map((id) => ({ id, label: id, title: id, kind: '', waitsFor: '' }));
  const made = layout({
    nodes: nodes as Parameters<typeof layout>[0]['nodes'],
    edges: arrows.map(({ from, to, label, alternative }) => ({ from, to, label, alternative })),
  });
  return new Map(
    made.nodes.map((one) => [one.node.id, { x: Math.round(one.x), y: Math.round(one.y) }]),
  );
}

/** Each in the column after the last that it follows, near to the middle of those. */
export function inColumns(ids: string[], arrows: Arrow[]): Map<string, Spot> {
  const before = new Map<string, string[]>(ids.map((id) => [id, []]));
  const after = new Map<string, string[]>(ids.map((id) => [id, []]));
  for (const { from, to } of arrows) {
    before.get(to)?.push(from);
    after.get(from)?.push(to);
  }
  const column = new Map<string, number>();
  const left = new Map(ids.map((id) => [id, before.get(id)?.length ?? 0]));
  const open = ids.filter((id) => left.get(id) === 0);
  for (let i = 0; i < open.length; i++) {
    const id = open[i] as string;
    const at = Math.max(-1, ...(before.get(id) ?? []).map((one) => column.get(one) ?? -1)) + 1;
    column.set(id, at);
    for (const next of after.get(id) ?? []) {
      const count = (left.get(next) ?? 1) - 1;
      left.set(next, count);
      if (count === 0) {
        open.push(next);
      }
    }
  }
  const columns: string[][] = [];
  for (const id of ids) {
    (columns[column.get(id) ?? 0] ??= []).push(id); // what stands in a circle begins at the left
  }
  const spots = new Map<string, Spot>();
  const step = NODE_HEIGHT + APART.y;
  columns.forEach((column, nth) => {
    const wanted = column.map((id, row) => {
      const ys = (before.get(id) ?? []).flatMap((one) => spots.get(one)?.y ?? []);
      return { id, y: ys.length ? ys.reduce((a, b) => a + b, 0) / ys.length : row * step };
    });
    let free = 16;
    for (const { id, y } of wanted.sort((a, b) => a.y - b.y)) {
      const at = Math.max(free, Math.round(y));
      spots.set(id, { x: 16 + nth * (NODE_WIDTH + APART.x), y: at });
      free = at + step;
    }
  });
  return spots;
}

function overlaps(one: Spot, other: Spot): boolean {
  return (
    Math.abs(one.x - other.x) < NODE_WIDTH + 12 && Math.abs(one.y - other.y) < NODE_HEIGHT + 12
  );
}

/**
 * Where everything stands: by hand where somebody has said so, as before where it stood, and what is
 * new beside what it follows or precedes. A picture that is new as a whole is arranged by itself.
 */
export function placed(
  ids: string[],
  arrows: Arrow[],
  byHand: Map<string, Spot>,
  before: ReadonlyMap<string, Spot>,
): Map<string, Spot> {
  const known = new Map<string, Spot>();
  const fresh: string[] = [];
  for (const id of ids) {
    const at = byHand.get(id) ?? before.get(id);
    if (at) {
      known.set(id, at);
    } else {
      fresh.push(id);
    }
  }
  if (known.size === 0 || fresh.length > 40) {
    const made = arranged(ids, arrows);
    byHand.forEach((at, id) => made.set(id, at));
    return made;
  }
  for (const id of fresh) {
    known.set(id, beside(id, arrows, known));
  }
  return known;
}

function beside(id: string, arrows: Arrow[], known: Map<string, Spot>): Spot {
  const spots = (found: (string | undefined)[]) =>
    found.flatMap((one) => (one && known.get(one) ? [known.get(one) as Spot] : []));
  const before = spots(arrows.filter((one) => one.to === id).map((one) => one.from));
  const after = spots(arrows.filter((one) => one.from === id).map((one) => one.to));
  const step = NODE_WIDTH + APART.x;
  let at: Spot;
  if (before.length > 0) {
    at = {
      x: Math.max(...before.map((one) => one.x)) + step,
      y: Math.min(...before.map((one) => one.y)),
    };
  } else if (after.length > 0) {
    at = {
      x: Math.min(...after.map((one) => one.x)) - step,
      y: Math.min(...after.map((one) => one.y)),
    };
  } else {
    const all = [...known.values()];
    at = {
      x: Math.min(...all.map((one) => one.x)),
      y: Math.max(...all.map((one) => one.y)) + NODE_HEIGHT + APART.y,
    };
  }
  const all = [...known.values()];
  while (all.some((one) => overlaps(one, at))) {
    at = { x: at.x, y: at.y + NODE_HEIGHT + APART.y };
  }
  return at;
}

/** The nearest shape in a direction, for the keyboard; the same where there is none. */
export function nearest(
  spots: ReadonlyMap<string, Spot>,
  from: string,
  dx: number,
  dy: number,
): string {
  const at = spots.get(from);
  let best = from;
  let least = Infinity;
  if (at) {
    spots.forEach((one, id) => {
      const along = (one.x - at.x) * dx + (one.y - at.y) * dy;
      const across = Math.abs((one.x - at.x) * dy) + Math.abs((one.y - at.y) * dx);
      const far = along + across * 2;
      if (id !== from && along > 0 && far < least) {
        least = far;
        best = id;
      }
    });
  }
  return best;
}

/** The shapes that a frame touches. */
export function within(
  spots: ReadonlyMap<string, Spot>,
  frame: { x: number; y: number; width: number; height: number },
): string[] {
  return [...spots.entries()]
    .filter(
      ([, at]) =>
        at.x < frame.x + frame.width &&
        at.x + NODE_WIDTH > frame.x &&
        at.y < frame.y + frame.height &&
        at.y + NODE_HEIGHT > frame.y,
    )
    .map(([id]) => id);
}

/** A line from the right of one shape to the left of another. */
export function line(from: Spot, to: Spot): { path: string; middle: Spot } {
  const a = { x: from.x + NODE_WIDTH, y: from.y + NODE_HEIGHT / 2 };
  const b = { x: to.x, y: to.y + NODE_HEIGHT / 2 };
  const bend = Math.max(40, Math.abs(b.x - a.x) / 2);
  return {
    path: `M ${a.x} ${a.y} C ${a.x + bend} ${a.y}, ${b.x - bend} ${b.y}, ${b.x} ${b.y}`,
    middle: { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 },
  };
}
