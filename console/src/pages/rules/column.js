/** The column that a message about a rule names, from 1; 0 for none. */
export function columnOf(message) {
    const found = /^column (\d+):/.exec(message);
    return found ? Number(found[1]) : 0;
}
