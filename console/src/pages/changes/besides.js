import { diffLines } from 'diff';
/** Two texts line by line: what stays is beside itself, what goes beside what comes instead. */
export function besides(before, after) {
    const out = [];
    let lost = [];
    let gained = [];
    const settle = () => {
        out.push(...aside(lost, gained));
        lost = [];
        gained = [];
    };
    for (const part of diffLines(ended(before), ended(after))) {
        const lines = part.value.replace(/\n$/, '').split('\n');
        if (part.removed) {
            lost = lines;
        }
        else if (part.added) {
            gained = lines;
        }
        else {
            settle();
            out.push(...lines.map((line) => ({ before: line, after: line, changed: false })));
        }
    }
    settle();
    return out;
}
/** A last line without its end would differ from the same line with one. */
function ended(text) {
    return text === '' || text.endsWith('\n') ? text : `${text}\n`;
}
function aside(a, b) {
    return Array.from({ length: Math.max(a.length, b.length) }, (_, index) => ({
        before: a[index],
        after: b[index],
        changed: true,
    }));
}
