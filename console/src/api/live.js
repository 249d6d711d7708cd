import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
/** Asks anew for whatever the service says has changed; returns whether the service is heard. */
export function useLiveChanges(signedIn) {
    const queries = useQueryClient();
    const [heard, setHeard] = useState(true);
    useEffect(() => {
        if (!signedIn) {
            return undefined;
        }
        const source = new EventSource('/api/v1/changes');
        source.onopen = () => {
            setHeard(true);
            queries.invalidateQueries();
        };
        source.onerror = () => setHeard(false);
        source.addEventListener('changes', (event) => {
            const changes = JSON.parse(event.data);
            const stale = (key) => queries.invalidateQueries({ queryKey: key });
            if (changes.runs.length > 0) {
                stale(['today']);
                stale(['capacities']);
                changes.runs.forEach((change) => stale(['run', change.run]));
            }
            changes.outputs.forEach((run) => stale(['output', run]));
            if (changes.alerts) {
                stale(['alerts']);
                stale(['today']);
            }
            if (changes.hosts) {
                stale(['hosts']);
            }
            if (changes.definitions) {
                stale(['calendars']);
                stale(['streams']);
            }
        });
        return () => source.close();
    }, [queries, signedIn]);
    return heard;
}
/** The present, to the second, for now-lines and ages. */
export function useNow(everyMillis = 1_000) {
    const [now, setNow] = useState(() => Date.now());
    useEffect(() => {
        const timer = setInterval(() => setNow(Date.now()), everyMillis);
        return () => clearInterval(timer);
    }, [everyMillis]);
    return now;
}
