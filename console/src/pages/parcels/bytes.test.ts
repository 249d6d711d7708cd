import { describe, expect, it } from 'vitest';
import { base64Of, bytesOf, parcelName } from './bytes';

describe('a parcel as text and bytes', () => {
  it.each([0, 1, 2, 3, 32_767, 32_768, 32_769, 200_001])('%i bytes come back', (many) => {
    const bytes = Uint8Array.from({ length: many }, (_, i) => (i * 31) % 256);
    expect(bytesOf(base64Of(bytes))).toEqual(bytes);
  });
  it.each([
    [[], 'purser.parcel'],
    [['fuel/stock-count'], 'fuel-stock-count.parcel'],
    [['a/b', 'c'], 'a-b-and-1.parcel'],
  ])('%j is %s', (streams, name) => expect(parcelName(streams)).toBe(name));
});
