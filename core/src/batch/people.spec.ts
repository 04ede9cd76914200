import { predictorFor, type BatchChange, type BatchContext } from '../index.js';
import { aContext, aPost as post } from '../posts/testing.js';

const scene: BatchContext = {
  ...aContext({ pastRun: 'refused' }),
  spread: new Map(),
  bytesOf: () => undefined,
  lighter: () => undefined,
  rewritten: () => undefined,
};

function predict(changes: BatchChange[], of = post()) {
  const made = predictorFor(changes, scene);
  if (!made.ok) throw new Error(made.sentence);
  return made.predict(of);
}

describe('a batch that the planner or the roster makes', () => {
  it('gives places of a plan to pitches and to what is begun, and leaves other posts alone', () => {
    const place = { postId: 3, local: '2026-12-08T08:00:00', writerId: 8, copyDate: '2026-12-04' };
    const change: BatchChange = { kind: 'plan', places: [place] };
    const pitch = post({ id: 3, stage: 'pitch', bylineId: null, run: null });
    const made = predict([change], pitch);
    if (made.state !== 'changes') throw new Error(JSON.stringify(made));
    expect(made.edited.post).toMatchObject({
      stage: 'commissioned',
      bylineId: 8,
      run: { local: place.local },
    });
    expect(made.edited.post.brief.copyDate).toBe('2026-12-04');
    const begun = predict([change], post({ id: 3, stage: 'drafting', run: null }));
    if (begun.state !== 'changes') throw new Error(JSON.stringify(begun));
    expect(begun.edited.post).toMatchObject({ stage: 'drafting', bylineId: 8, run: { local: place.local } });
    expect(predict([change], post({ id: 4, stage: 'pitch', run: null }))).toEqual({ state: 'same' });
    const gap: BatchChange = { kind: 'plan', places: [{ ...place, local: '2027-03-28T01:30:00' }] };
    expect(predict([gap], pitch)).toMatchObject({ state: 'refused' });
  });

  it('reassigns whatever one person has in hand of a post', () => {
    const change: BatchChange = { kind: 'reassign', from: 7, to: 8 };
    const after = (of: Parameters<typeof post>[0]) => {
      const made = predict([change], post({ stage: 'drafting', ...of }));
      if (made.state !== 'changes') return made.state;
      const { bylineId, coauthorIds, editorId, proofreaderId } = made.edited.post;
      return { bylineId, coauthorIds, editorId, proofreaderId };
    };
    expect(after({ bylineId: 7, coauthorIds: [8, 9], editorId: 7, proofreaderId: 7 })).toEqual({
      bylineId: 8,
      coauthorIds: [9],
      editorId: 8,
      proofreaderId: 8,
    });
    expect(after({ bylineId: 9, coauthorIds: [7], editorId: null, proofreaderId: null })).toMatchObject({
      bylineId: 9,
      coauthorIds: [8],
    });
    expect(after({ bylineId: 8, coauthorIds: [7], editorId: null, proofreaderId: null })).toMatchObject({
      coauthorIds: [],
    });
    expect(after({ bylineId: 9, coauthorIds: [], editorId: null, proofreaderId: null })).toBe('same');
  });
});
