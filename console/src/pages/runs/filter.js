export const NAMES = [
    'date',
    'from',
    'to',
    'stream',
    'department',
    'tag',
    'state',
    'host',
    'text',
];
/** The filter of an address; where it says nothing about dates, today's runs are meant. */
export function filterOf(address, today) {
    const filter = Object.fromEntries(NAMES.map((name) => [name, address.get(name) ?? '']));
    const dated = ['date', 'from', 'to'].some((name) => address.has(name));
    return dated ? filter : { ...filter, date: today };
}
/** The address of a filter; today's date is left out, so that a kept filter means any day's today. */
export function addressOf(filter, today) {
    const address = new URLSearchParams();
    for (const name of NAMES) {
        const isToday = name === 'date' && filter.date === today;
        if (filter[name] !== '' && !isToday) {
            address.set(name, filter[name]);
        }
    }
    const anyDate = filter.date === '' && filter.from === '' && filter.to === '';
    if (anyDate) {
        address.set('date', '');
    }
    return address.toString();
}
/** What can be sent: parts that are empty are left out. */
export function queryOf(filter) {
    return Object.fromEntries(NAMES.filter((n) => filter[n] !== '').map((n) => [n, filter[n]]));
}
