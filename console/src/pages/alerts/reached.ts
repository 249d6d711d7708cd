import type { Schemas } from '../../api/client';
import { clock } from '../../parts/time';

type Alert = Schemas['AlertView'];

/** A line about who was, is or will be told. */
export interface Reached {
  text: string;
  more?: string;
  color?: 'error' | 'textSecondary';
}

/** Whom an alert has reached, whom it will, and whom not; each message once. */
export function reachedOf(alert: Alert, now: number): Reached[] {
  const lines: Reached[] = alert.deliveries.map((one) => {
    const digest = one.what === 'digest' ? ', with others' : '';
    if (one.state === 'delivered') {
      return {
        text: `${one.recipient} by ${one.channel}: told ${clock(one.delivered, now, false)}${digest}`,
        more: `${one.address}: ${one.answer}`,
      };
    }
    return one.state === 'refused'
      ? {
          text: `${one.recipient} by ${one.channel}: refused`,
          more: one.lastError,
          color: 'error' as const,
        }
      : {
          text: `${one.recipient} by ${one.channel}: not yet, ${one.tries} ${
            one.tries === 1 ? 'try' : 'tries'
          }`,
          more: one.lastError || one.address,
        };
  });
  for (const one of alert.notices) {
    if (one.state === 'due') {
      lines.push({ text: `${one.name}: about to be told`, color: 'textSecondary' });
    } else if (one.state === 'waits') {
      lines.push({
        text: `${one.name}: at ${clock(one.due, now, false)}`,
        more: one.note,
        color: 'textSecondary',
      });
    } else if (one.state === 'folded') {
      lines.push({ text: `${one.name}: ${one.note}`, color: 'textSecondary' });
    } else if (one.state === 'dropped' && !/^(by way of it|does not receive)/.test(one.note)) {
      lines.push({ text: `${one.name}: not told, ${one.note}`, color: 'textSecondary' });
    }
  }
  const once = lines.filter((line, at) => lines.findIndex((one) => one.text === line.text) === at);
  return once.length === 0 ? [{ text: 'nobody is to be told', color: 'textSecondary' }] : once;
}
