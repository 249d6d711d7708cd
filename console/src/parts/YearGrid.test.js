import { jsx as _jsx } from "react/jsx-runtime";
import { ThemeProvider } from '@mui/material';
import { renderToStaticMarkup } from 'react-dom/server';
import { MemoryRouter } from 'react-router';
import { expect, it } from 'vitest';
import { StreamChanges } from '../pages/changes/StreamChanges';
import { PausedMark } from '../pages/streams/PausedMark';
import { makeTheme } from '../theme';
import { YearGrid } from './YearGrid';
function year(on) {
    const days = [];
    for (let at = Date.UTC(2027, 0, 1); at < Date.UTC(2028, 0, 1); at += 86_400_000) {
        const date = new Date(at).toISOString().slice(0, 10);
        days.push({
            date,
            on: on(date),
            name: date === '2027-03-29' ? "Founders' Day (brannoch)" : '',
            reason: `because of ${date}`,
            guess: date > '2027-11-30',
        });
    }
    return days;
}
function drawn(element) {
    return renderToStaticMarkup(_jsx(ThemeProvider, { theme: makeTheme('light'), children: _jsx(MemoryRouter, { children: element }) }));
}
it('a year has every day once, with its reason, and holidays by their names', () => {
    const markup = drawn(_jsx(YearGrid, { days: year((date) => date.endsWith('-15')), on: "picked", off: "not picked" }));
    expect(markup.match(/data-on="/g)).toHaveLength(365);
    expect(markup.match(/data-on="true"/g)).toHaveLength(12);
    expect(markup).toContain('2027-03-15, picked: because of 2027-03-15');
    expect(markup).toContain('2027-12-15, picked, a guess: because of 2027-12-15');
    expect(markup).toContain('Founders&#x27; Day (brannoch)');
});
it('days that can be asked about are buttons that say what they are', () => {
    const markup = drawn(_jsx(YearGrid, { days: year(() => false), on: "open", off: "closed", onDay: () => undefined }));
    expect(markup.match(/<button/g)).toHaveLength(365);
    expect(markup).toContain('aria-label="2027-06-01, closed: because of 2027-06-01"');
});
it('a change of a stream says what happens to each start, and why', () => {
    const change = (what, date, toDate, more = {}) => ({
        what,
        date,
        at: `${date}T06:00:00Z`,
        toDate,
        toAt: `${toDate}T06:00:00Z`,
        runs: 2,
        reason: `reason of ${date}`,
        guess: false,
        shift: '',
        ...more,
    });
    const markup = drawn(_jsx(StreamChanges, { now: Date.UTC(2027, 0, 1), stream: {
            stream: 'a/b',
            title: 'A stream',
            gained: 2,
            lost: 0,
            moved: 4,
            paused: true,
            more: 0,
            changes: [
                change('gained', '2027-03-04', '2027-03-04', { guess: true }),
                change('moved', '2027-03-05', '2027-03-08', { shift: 'skipped' }),
                change('moved', '2027-03-09', '2027-03-09', { toAt: '2027-03-09T07:00:00Z' }),
            ],
        } }));
    expect(markup).toContain('A stream: 2 gained, 4 moved');
    expect(markup).toContain('it is paused then');
    expect(markup).toContain('2027-03-04 Thu');
    expect(markup).toContain('→ 2027-03-08 Mon');
    expect(markup).toContain('a guess');
    expect(markup).toContain('clock change: skipped');
    expect(markup).toContain('reason of 2027-03-05');
});
it('a long list of changes shows a few and offers the rest', () => {
    const changes = Array.from({ length: 20 }, (_, index) => ({
        what: 'lost',
        date: `2027-03-${String(index + 1).padStart(2, '0')}`,
        at: `2027-03-${String(index + 1).padStart(2, '0')}T06:00:00Z`,
        toDate: '2027-03-01',
        toAt: '2027-03-01T06:00:00Z',
        runs: 1,
        reason: 'closed',
        guess: false,
        shift: '',
    }));
    const markup = drawn(_jsx(StreamChanges, { now: 0, stream: {
            stream: 'a',
            title: 'A',
            gained: 0,
            lost: 30,
            moved: 0,
            paused: false,
            more: 10,
            changes,
        } }));
    expect(markup.match(/aria-label="lost"/g)).toHaveLength(6);
    expect(markup).toContain('24 more');
});
it('a pause says until when, by whom and why', () => {
    const markup = drawn(_jsx(PausedMark, { pause: { since: '2027-03-04T06:00:00Z', until: '2027-04-01', who: 'ida', reason: 'audit' } }));
    expect(markup).toContain('paused until 2027-04-01');
    expect(markup).toContain('by ida: audit');
});
