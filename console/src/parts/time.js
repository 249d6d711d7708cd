/** Instants and durations as people read them, on the viewer's own clock. */
const timeForm = new Intl.DateTimeFormat(undefined, {
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
    hourCycle: 'h23',
});
const shortForm = new Intl.DateTimeFormat(undefined, {
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
});
/** The local date of an instant, as 2027-03-04. */
export function localDate(instant) {
    const date = new Date(instant);
    const two = (n) => String(n).padStart(2, '0');
    return `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;
}
/** The time of an instant, with the date where it is not today; empty for none. */
export function clock(instant, now, seconds = true) {
    if (!instant) {
        return '';
    }
    const millis = Date.parse(instant);
    const time = (seconds ? timeForm : shortForm).format(millis);
    return localDate(millis) === localDate(now) ? time : `${localDate(millis)} ${time}`;
}
/** The time of a tick of an axis; where a day begins, the day: 24 Nov. */
export function axisTime(instant) {
    const time = shortForm.format(instant);
    const day = new Date(instant).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });
    return time === '00:00' ? day : time;
}
/** A span in its two largest units: 1h 05m, 4m 10s, 12s. */
export function span(millis) {
    const seconds = Math.max(0, Math.round(millis / 1000));
    const two = (n) => String(n).padStart(2, '0');
    if (seconds >= 86_400) {
        return `${Math.floor(seconds / 86_400)}d ${Math.floor((seconds % 86_400) / 3600)}h`;
    }
    if (seconds >= 3600) {
        return `${Math.floor(seconds / 3600)}h ${two(Math.floor((seconds % 3600) / 60))}m`;
    }
    return seconds >= 60 ? `${Math.floor(seconds / 60)}m ${two(seconds % 60)}s` : `${seconds}s`;
}
/** Bytes in a unit that fits. */
export function bytes(n) {
    if (n < 1000) {
        return `${n} B`;
    }
    return n < 1_000_000 ? `${(n / 1000).toFixed(1)} kB` : `${(n / 1_000_000).toFixed(1)} MB`;
}
