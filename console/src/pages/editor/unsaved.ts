import { useEffect } from 'react';

const UNSAVED = 'purser-unsaved ';

/** What was not saved when somebody left the page for another one of the console. */
export function unsaved(place: string): string {
  return sessionStorage.getItem(UNSAVED + place) ?? '';
}

/** Keeps it, or forgets it where there is nothing. */
export function keepUnsaved(place: string, text: string) {
  if (text === '') {
    sessionStorage.removeItem(UNSAVED + place);
    return;
  }
  try {
    sessionStorage.setItem(UNSAVED + place, text);
  } catch {
    // there is no room for it: the browser asks before the page is left
  }
}

/** The browser asks before a page with changes that are not saved is left. */
export function useLeaving(dirty: boolean) {
  useEffect(() => {
    const ask = (e: BeforeUnloadEvent) => dirty && e.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [dirty]);
}
