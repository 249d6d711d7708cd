/** The actions of the API as people read them. */
const names = {
    start: 'Start at once',
    'rerun-from': 'Rerun with what follows',
    succeed: 'Mark as succeeded',
    fail: 'Mark as failed',
    priority: 'Change priority',
    'start-at': 'Change start time',
};
/** An action's name, as a button says it. */
export function actionName(action) {
    return names[action] ?? action.charAt(0).toUpperCase() + action.slice(1);
}
/** Those that are offered as buttons of their own; the rest is in a menu. */
export const prominent = ['approve', 'refuse', 'rerun', 'release', 'hold', 'skip', 'cancel'];
