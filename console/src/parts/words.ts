/** A sentence with its full stop, where it does not end by itself. */
export function sentence(text: string): string {
  return /[.?!]$/.test(text) ? text : `${text}.`;
}
