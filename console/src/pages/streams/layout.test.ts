import { expect, test } from 'vitest';
import { layout } from './layout';

const node = (id: string) => ({ id, label: id, title: id, kind: 'command', waitsFor: '' });
const edge = (from: string, to: string) => ({ from, to, label: 'succeeded', alternative: false });

test('what follows stands to the right of what it waits for', () => {
  const made = layout({
    nodes: [node('a'), node('b'), node('c')],
    edges: [edge('a', 'b'), edge('b', 'c'), edge('a', 'c')],
  });
  const x = (id: string) => made.nodes.find((one) => one.node.id === id)?.x ?? 0;
  expect(x('a')).toBeLessThan(x('b'));
  expect(x('b')).toBeLessThan(x('c'));
  expect(made.edges).toHaveLength(3);
  expect(made.edges.every((one) => one.path.startsWith('M '))).toBe(true);
});

test('three hundred jobs are laid out, none upon another', () => {
  const nodes = Array.from({ length: 300 }, (_, i) => node(`j${i}`));
  const edges = nodes.slice(10).map((one, i) => edge(`j${i}`, one.id));
  const made = layout({ nodes, edges });
  const places = new Set(made.nodes.map((one) => `${Math.round(one.x)},${Math.round(one.y)}`));
  expect(places.size).toBe(300);
  expect(made.height).toBeGreaterThan(0);
});

test('two edges between the same jobs both stay', () => {
  const made = layout({ nodes: [node('a'), node('b')], edges: [edge('a', 'b'), edge('a', 'b')] });
  expect(made.edges).toHaveLength(2);
});
