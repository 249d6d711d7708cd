/** The page on which something can be done about an alert, or whatever needs a person. */
export function pageOf(about: { kind: string; run: number; reference: string }): string {
  if (about.run) {
    return `/runs/${about.run}`;
  }
  switch (about.kind) {
    case 'host':
      return '/hosts';
    case 'file':
      if (about.reference.endsWith(' unprocessed')) {
        return '/files?view=unprocessed';
      }
      return about.reference.startsWith('arrival ') ? '/files?view=arrivals' : '/files';
    default:
      return '/calendars';
  }
}
