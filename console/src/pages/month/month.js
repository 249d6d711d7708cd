const yearOf = (date) => Number(date.slice(0, 4));
const monthOf = (date) => Number(date.slice(5, 7));
/** The first of the month of a date, so many months on. */
export function firstOfMonth(date, months) {
    return new Date(Date.UTC(yearOf(date), monthOf(date) - 1 + months, 1)).toISOString().slice(0, 10);
}
/** How many days the month of a date has. */
export function lengthOfMonth(date) {
    return new Date(Date.UTC(yearOf(date), monthOf(date), 0)).getUTCDate();
}
/** A month in words: December 2026. */
export function monthName(date) {
    return new Date(`${date}T00:00:00Z`).toLocaleDateString('en', {
        month: 'long',
        year: 'numeric',
        timeZone: 'UTC',
    });
}
/** The names of the holidays of all rows by date, each name once. */
export function holidaysOf(rows) {
    const found = {};
    for (const row of rows) {
        for (const cell of row.cells) {
            if (cell.holiday) {
                (found[cell.date] ??= new Set()).add(cell.holiday);
            }
        }
    }
    return Object.fromEntries(Object.entries(found)
        .sort(([a], [b]) => a.localeCompare(b))
        .map(([date, names]) => [date, [...names].join(', ')]));
}
