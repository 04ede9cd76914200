import type { PostView } from '@keyroster/contract';
import type { Stage } from '@keyroster/core';
import { post } from '../../testing/newsroom';
import { moveButtons } from './move-buttons';

const NOW = '2026-11-27T10:00:00';
const moves = (...to: Stage[]) => to.map((stage) => ({ to: stage, label: `To ${stage}` }));
const labels = (parts: Partial<PostView>) => {
  const { rights } = post();
  return moveButtons(post({ rights: { ...rights, plan: true, details: true }, ...parts }), NOW).map(
    ({ label, main, refuse }) => `${main ? '*' : ''}${label}${refuse ? '!' : ''}`,
  );
};

describe('where a post may go from here', () => {
  it.each<[string, Partial<PostView>, string[]]>([
    [
      'in review with a date to come: cleared and scheduled in one',
      {
        stage: 'in review',
        runLocal: '2026-12-07T08:00:00',
        moves: moves('cleared', 'scheduled', 'drafting'),
      },
      ['*Clear and schedule for Mon 7 Dec, 08:00', 'Clear', 'Ask for changes', 'Reassign …'],
    ],
    [
      'in review with a date that has passed: cleared alone',
      { stage: 'in review', runLocal: '2026-11-20T08:00:00', moves: moves('cleared', 'drafting') },
      ['*Clear', 'Ask for changes', 'Reassign …'],
    ],
    [
      'cleared: scheduled, released now, or without its date',
      { stage: 'cleared', runLocal: '2026-12-07T08:00:00', moves: moves('scheduled', 'drafting') },
      ['*Schedule …', 'Release now …', 'Remove the date', 'Ask for changes'],
    ],
    [
      'scheduled: another time, or none',
      { stage: 'scheduled', moves: moves('cleared') },
      ['Move …', 'To cleared'],
    ],
    [
      'a draft: handed in, with a word or without; never straight back to the tray',
      { stage: 'drafting', runLocal: null, moves: moves('in review', 'pitch') },
      ['*To in review', 'Hand in with a word …'],
    ],
    [
      'published: withdrawn, which takes it from readers',
      { stage: 'published', moves: moves('withdrawn') },
      ['Withdraw …!'],
    ],
    ['what nobody may move', { stage: 'published', moves: [] }, []],
  ])('%s', (_, parts, expected) => expect(labels(parts)).toEqual(expected));
});
