import type { Schemas } from '../../api/client';
import type { StateName } from '../../theme';

export type Difference = Schemas['DifferenceView'];

interface Look {
  /** Told by its shape too, not by hue alone. */
  mark: string;
  colours: StateName;
}

const looks: Partial<Record<string, Look>> = {
  'newer there': { mark: '←', colours: 'running' },
  'only there': { mark: '← +', colours: 'running' },
  'newer here': { mark: '→', colours: 'succeeded' },
  'only here': { mark: '+ →', colours: 'succeeded' },
  'changed on both sides': { mark: '↔', colours: 'failed' },
};

/** How a standing is drawn: an arrow to the side that has yet to get it. */
export function lookOf(standing: string): Look {
  return looks[standing] ?? { mark: '≠', colours: 'waiting' };
}

/** Standings in the order of how much they ask of whoever brings things here. */
const order = [
  'newer there',
  'only there',
  'changed on both sides',
  'differs',
  'newer here',
  'only here',
];

export function inOrder(counts: Record<string, number>): [string, number][] {
  return Object.entries(counts).sort(([a], [b]) => order.indexOf(a) - order.indexOf(b));
}

/** What can be brought here: all that is there. */
export function isBringable(one: Difference): boolean {
  return one.revisionThere > 0;
}

export function keyOf(one: Difference): string {
  return `${one.kind} ${one.name}`;
}

export interface Wanted {
  text: string;
  standing: string;
  kind: string;
}

/** Those with words of a text in their kind, name or department, of one standing and kind, or all. */
export function shown(all: Difference[], wanted: Wanted): Difference[] {
  const words = wanted.text.toLowerCase().split(/\s+/).filter(Boolean);
  return all
    .filter((one) => wanted.standing === '' || one.standing === wanted.standing)
    .filter((one) => wanted.kind === '' || one.kind === wanted.kind)
    .filter((one) => {
      const text = `${keyOf(one)} ${one.department}`.toLowerCase();
      return words.every((word) => text.includes(word));
    })
    .sort((a, b) => order.indexOf(a.standing) - order.indexOf(b.standing));
}
