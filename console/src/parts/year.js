const names = [
    'January',
    'February',
    'March',
    'April',
    'May',
    'June',
    'July',
    'August',
    'September',
    'October',
    'November',
    'December',
];
/** The days of a year by month. */
export function months(days) {
    return names.map((name, index) => ({
        name,
        days: days.filter((day) => Number(day.date.slice(5, 7)) === index + 1),
    }));
}
/** The weekday of a date: 1 for Monday to 7 for Sunday. */
export function weekdayOf(date) {
    return new Date(`${date}T00:00:00Z`).getUTCDay() || 7;
}
