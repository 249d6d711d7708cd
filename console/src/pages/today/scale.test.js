import { describe, expect, it } from 'vitest';
import { barOf, countsSentence, place, scaleOf, ticks, zoomed } from './scale';
const at = (time) => Date.parse(`2027-03-04T${time}:00Z`);
const run = (fields) => ({ due: '2027-03-04T20:30:00Z', state: 'planned', ...fields });
describe('the bar of a run', () => {
    const now = at('20:40');
    it('lies where it ran', () => {
        const done = run({
            state: 'succeeded',
            started: '2027-03-04T20:30:00Z',
            ended: '2027-03-04T20:35:00Z',
        });
        expect(barOf(done, now)).toEqual({ from: at('20:30'), to: at('20:35'), likely: false });
    });
    it('reaches to its likely end while it runs, and to the present once that is past', () => {
        const running = run({ state: 'running', started: '2027-03-04T20:30:00Z' });
        expect(barOf({ ...running, expectedEnd: '2027-03-04T20:50:00Z' }, now).to).toBe(at('20:50'));
        expect(barOf({ ...running, expectedEnd: '2027-03-04T20:35:00Z' }, now).to).toBe(now);
    });
    it('begins when a waiting run was due', () => {
        const waiting = run({
            state: 'waiting',
            expectedStart: '2027-03-04T21:00:00Z',
            expectedEnd: '2027-03-04T21:10:00Z',
        });
        expect(barOf(waiting, now)).toEqual({ from: at('20:30'), to: at('21:10'), likely: true });
    });
    it('never ends before it begins', () => {
        const skipped = run({ state: 'skipped', ended: '2027-03-04T20:30:00Z' });
        expect(barOf(skipped, now)).toEqual({ from: at('20:30'), to: at('20:30'), likely: false });
    });
});
describe('the scale of a day', () => {
    const now = at('12:00');
    const streams = [
        {
            runs: [
                run({ state: 'succeeded', started: '2027-03-04T02:10:00Z', ended: '2027-03-04T02:50:00Z' }),
            ],
        },
        { runs: [run({ expectedStart: '2027-03-04T20:30:00Z', expectedEnd: '2027-03-04T20:45:00Z' })] },
    ];
    it('goes from full hour to full hour', () => {
        expect(scaleOf(streams, now)).toEqual({ from: at('02:00'), to: at('21:00') });
    });
    it('is looked at round the present, and never beyond its ends', () => {
        const whole = scaleOf(streams, now);
        expect(zoomed(whole, 6, now)).toEqual({ from: at('10:00'), to: at('16:00') });
        expect(zoomed(whole, 6, at('20:59'))).toEqual({ from: at('15:00'), to: at('21:00') });
        expect(zoomed(whole, 0, now)).toEqual(whole);
    });
    it('has few ticks, and places in percent', () => {
        const whole = scaleOf(streams, now);
        expect(ticks(whole).length).toBeLessThanOrEqual(16);
        expect(place(at('11:30'), whole)).toBe(50);
    });
});
it('counts are said with the most pressing first', () => {
    expect(countsSentence({ succeeded: 3, failed: 1, planned: 0 })).toBe('1 failed · 3 succeeded');
    expect(countsSentence({})).toBe('no runs');
});
