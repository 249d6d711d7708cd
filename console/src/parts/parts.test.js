import { jsx as _jsx } from "react/jsx-runtime";
import { ThemeProvider } from '@mui/material';
import { renderToStaticMarkup } from 'react-dom/server';
import { MemoryRouter } from 'react-router';
import { describe, expect, it } from 'vitest';
import { History } from '../pages/run/History';
import { Reasons } from '../pages/run/Reasons';
import { makeTheme } from '../theme';
import { Notice, Waiting } from './Notice';
import { StateIcon, StateMark, stateName } from './StateMark';
const states = [
    'planned',
    'waiting',
    'starting',
    'running',
    'succeeded',
    'failed',
    'cancelled',
    'skipped',
];
function drawn(element, mode = 'light') {
    return renderToStaticMarkup(_jsx(ThemeProvider, { theme: makeTheme(mode), children: _jsx(MemoryRouter, { children: element }) }));
}
function words(markup) {
    return markup
        .replace(/<style[^>]*>.*?<\/style>/gs, '')
        .replace(/<[^>]+>/g, ' ')
        .replace(/&#x27;/g, "'")
        .replace(/\s+/g, ' ')
        .trim();
}
describe('a state', () => {
    it.each(states)('%s is told by an icon and a word, in light and dark', (state) => {
        for (const mode of ['light', 'dark']) {
            const markup = drawn(_jsx(StateMark, { state: state }), mode);
            expect(words(markup)).toBe(state);
            expect(markup).toContain('<svg');
        }
    });
    it('has a shape of its own, so that colour is never needed', () => {
        const shapes = states.map((state) => drawn(_jsx(StateIcon, { state: state })));
        expect(new Set(shapes).size).toBe(states.length);
    });
    it('says held beside it', () => {
        expect(words(drawn(_jsx(StateMark, { state: "waiting", held: true })))).toBe('waiting · held');
    });
    it('that this console does not know is drawn as planned, but named as it is', () => {
        expect(stateName('stalled')).toBe('planned');
        expect(words(drawn(_jsx(StateMark, { state: "stalled" })))).toBe('stalled');
    });
});
/** Contrast by WCAG 2.2, from 1 to 21. */
function contrast(a, b) {
    const light = (colour) => {
        const channels = [1, 3, 5].map((i) => parseInt(colour.slice(i, i + 2), 16) / 255);
        const [r, g, blue] = channels.map((c) => c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4);
        return 0.2126 * (r ?? 0) + 0.7152 * (g ?? 0) + 0.0722 * (blue ?? 0);
    };
    const [dark, bright] = [light(a), light(b)].sort((x, y) => x - y);
    return (bright + 0.05) / (dark + 0.05);
}
describe('the colours of a state', () => {
    it.each(['light', 'dark'])('can be read in %s', (mode) => {
        const theme = makeTheme(mode);
        for (const state of states) {
            const { text, fill } = theme.states[state];
            expect(contrast(text, fill), state).toBeGreaterThan(4.5);
        }
        expect(contrast(theme.palette.text.primary, theme.palette.background.default)).toBeGreaterThan(7);
        expect(contrast(theme.palette.text.secondary, theme.palette.background.paper)).toBeGreaterThan(4.5);
    });
});
describe('the reasons of a run', () => {
    const now = Date.parse('2027-03-04T20:40:00Z');
    const reason = (text, below = [], who = '') => ({ text, who, run: '', since: '2027-03-04T20:30:00Z', below });
    it('go down to what is really missing', () => {
        const tree = [reason('build is itself waiting', [reason('close failed', [], 'an operator')])];
        const text = words(drawn(_jsx(Reasons, { reasons: tree, now: now })));
        expect(text).toMatch(/build is itself waiting since .* close failed since .* can be changed by an operator/);
    });
    it('are not said twice where the sentence above has said the only one', () => {
        const said = 'It waits: close failed';
        const text = words(drawn(_jsx(Reasons, { reasons: [reason('close failed')], now: now, said: said })));
        expect(text).not.toContain('close failed');
        expect(text).toContain('since');
    });
    it('draw nothing where there are none', () => {
        expect(drawn(_jsx(Reasons, { reasons: [], now: now }))).toBe('');
    });
});
describe('earlier runs', () => {
    const run = { started: undefined, ended: undefined };
    const earlier = (id, state, seconds) => ({
        id,
        state,
        reference: `tide/import/load@2027-03-0${id}#1`,
        started: '2027-03-01T04:00:00Z',
        ended: new Date(Date.parse('2027-03-01T04:00:00Z') + seconds * 1000).toISOString(),
    });
    it('are summed up in a sentence and each is a link', () => {
        const markup = drawn(_jsx(History, { run: run, earlier: [
                earlier(3, 'failed', 90),
                earlier(2, 'succeeded', 60),
                earlier(1, 'succeeded', 30),
            ] }));
        expect(words(markup)).toContain('The last 3: 2 succeeded, half of them within 1m 00s; the longest took 1m 30s.');
        expect([...markup.matchAll(/href="\/runs\/(\d)"/g)].map((m) => m[1])).toEqual(['1', '2', '3']);
    });
    it('say so where there are none', () => {
        expect(words(drawn(_jsx(History, { run: run, earlier: [] })))).toContain('There are none yet.');
    });
});
it('what went wrong is said where the page would be', () => {
    expect(words(drawn(_jsx(Waiting, { error: new Error('the database is away'), what: "Hosts" })))).toBe('Hosts cannot be shown the database is away');
    expect(words(drawn(_jsx(Waiting, { error: null, what: "Hosts" })))).toBe('One moment Asking for hosts');
    expect(words(drawn(_jsx(Notice, { title: "Nothing", text: "at all" })))).toBe('Nothing at all');
});
