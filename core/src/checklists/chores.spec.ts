import { choreDue, choreOf, formatChoreDue, heldBy, mayTick } from './chores.js';

const post = { bylineId: 7, editorId: 2, proofreaderId: null, runLocal: '2026-12-08T08:00:00' };
const facts = {
  ...post,
  stage: 'drafting' as const,
  categoryId: 1,
  coauthorIds: [8],
  createdById: 1,
  readersVersion: null,
  proofreaderWrites: false,
};

describe('a chore', () => {
  it('falls to whoever the post has for it', () => {
    expect(choreOf({ assignee: 'writer', personId: null }, post)).toBe(7);
    expect(choreOf({ assignee: 'editor', personId: null }, post)).toBe(2);
    expect(choreOf({ assignee: 'proofreader', personId: null }, post)).toBeNull();
    expect(choreOf({ assignee: 'person', personId: 9 }, post)).toBe(9);
  });
  // Common practice, no published source: chores are due a number of days before the run time.
  it('moves with the run time', () => {
    expect(choreDue({ daysBefore: 3 }, post)).toBe('2026-12-05');
    expect(choreDue({ daysBefore: 0 }, post)).toBe('2026-12-08');
    expect(choreDue({ daysBefore: 3 }, { runLocal: null })).toBeNull();
    expect(choreDue({ daysBefore: 1 }, { runLocal: '2027-03-01T00:00:00' })).toBe('2027-02-28');
  });
  it('says when it is due', () => {
    expect(formatChoreDue('2026-12-05', '2026-12-02')).toBe('due Sat 5 Dec, in 3 days');
    expect(formatChoreDue('2026-12-05', '2026-12-07')).toBe('was due Sat 5 Dec, 2 days ago');
    expect(formatChoreDue(null, '2026-12-07')).toBe('');
  });
  it('is ticked by whose it is, who writes the post, and the desk', () => {
    const rule = { assignee: 'person' as const, personId: 9 };
    const may = (id: number, role: Parameters<typeof mayTick>[0]['role'], categories: number[] = []) =>
      mayTick({ id, role, categories }, facts, rule);
    expect(may(9, 'proofreader')).toBe(true);
    expect(may(7, 'contributor')).toBe(true);
    expect(may(8, 'contributor')).toBe(true);
    expect(may(5, 'contributor')).toBe(false);
    expect(may(3, 'editor', [1])).toBe(true);
    expect(may(3, 'editor', [2])).toBe(false);
    expect(may(1, 'managing editor')).toBe(true);
    expect(may(9, 'reader')).toBe(false);
  });
  it('holds its post back until it is done', () => {
    expect(
      heldBy([
        { text: 'Legal', holds: true, done: false },
        { text: 'Proof', holds: true, done: true },
        { text: 'Links', holds: false, done: false },
      ]),
    ).toEqual(['“Legal” of its checklist is not done.']);
  });
});
