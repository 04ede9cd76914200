import type { PostView } from '@keyroster/contract';
import { formatClock, formatShortDate, type Stage } from '@keyroster/core';

/** What a button of a post asks for. */
export type Asked =
  | {
      kind:
        | 'clear and schedule'
        | 'clear'
        | 'schedule'
        | 'release now'
        | 'note'
        | 'word'
        | 'reassign'
        | 'withdraw';
    }
  | { kind: 'take the date away'; runLocal: string }
  | { kind: 'go'; to: Stage };

export interface MoveButton {
  label: string;
  /** The one that is most likely meant. */
  main: boolean;
  /** Takes something from readers. */
  refuse: boolean;
  asks: Asked;
}

/** Where a post may go from here, as buttons in their order, each named for what it does. */
export function moveButtons(post: PostView, nowLocal: string): MoveButton[] {
  const { stage, runLocal, moves, rights } = post;
  const may = (to: Stage) => moves.some((m) => m.to === to);
  const buttons: MoveButton[] = [];
  const add = (label: string, asks: Asked, { main = false, refuse = false } = {}) =>
    buttons.push({ label, main, refuse, asks });
  if (stage === 'in review' && may('cleared')) {
    const planned = runLocal !== null && runLocal > nowLocal;
    if (planned)
      add(
        `Clear and schedule for ${formatShortDate(runLocal, nowLocal.slice(0, 10))}, ${formatClock(runLocal)}`,
        { kind: 'clear and schedule' },
        { main: true },
      );
    add('Clear', { kind: 'clear' }, { main: !planned });
  }
  if (may('scheduled') && stage !== 'in review')
    add('Schedule …', { kind: 'schedule' }, { main: stage === 'cleared' });
  if (stage === 'scheduled' && rights.plan) add('Move …', { kind: 'schedule' });
  if (may('scheduled') && stage === 'cleared') add('Release now …', { kind: 'release now' });
  if (stage === 'cleared' && runLocal && rights.plan)
    add('Remove the date', { kind: 'take the date away', runLocal });
  for (const { to, label } of moves) {
    if (to === 'scheduled' || (stage === 'in review' && to === 'cleared')) continue;
    if (label === 'Take back') add('Take back', { kind: 'go', to });
    else if (to === 'drafting' && (stage === 'in review' || stage === 'cleared'))
      add('Ask for changes', { kind: 'note' });
    else if (stage === 'drafting' && to === 'pitch') continue;
    else if (to === 'cleared' && stage !== 'scheduled') add(label, { kind: 'clear' });
    else if (to === 'withdrawn') add('Withdraw …', { kind: 'withdraw' }, { refuse: true });
    else add(label, { kind: 'go', to }, { main: to === 'in review' });
    if (to === 'in review') add('Hand in with a word …', { kind: 'word' });
  }
  if (stage === 'in review' && rights.details) add('Reassign …', { kind: 'reassign' });
  return buttons;
}
