import type { PitchAlike } from '@keyroster/contract';
import { mostAlike, stemsOf, type Stage } from '@keyroster/core';
import { seenSql } from '../posts/visible.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';

/** For each pitch so many candidates are compared exactly; they are found by the words of their titles. */
const CANDIDATES = 40;
/** The newest pitches are looked at; a tray with more is past comparing by eye. */
const MAX_PITCHES = 400;

interface Candidate {
  id: number;
  title: string;
  stage: Stage;
  runLocal: string | null;
}

/**
 * Pitches that resemble an earlier post or pitch, with the one they resemble most. Candidates come from the
 * full-text index, the measure from core.
 */
export async function alikePitches(db: Queryable, person: CurrentPerson): Promise<PitchAlike[]> {
  const ofPitches = seenSql(person, 'posts');
  const ofCandidates = seenSql(person, 'p');
  const pitches = await db('posts')
    .where({ blog_id: person.blogId, stage: 'pitch' })
    .modify((q) => {
      void q.whereRaw(ofPitches.text, ofPitches.values);
    })
    .orderBy('id', 'desc')
    .limit(MAX_PITCHES)
    .select<{ id: number; title: string }[]>('id', 'title');
  const asked = pitches.flatMap(({ id, title }) => {
    const words = [...stemsOf(title).values()].filter((w) => /^[a-z0-9]+$/.test(w)).slice(0, 12);
    return words.length > 0 ? [{ id, query: words.join(' | ') }] : [];
  });
  if (asked.length === 0) return [];
  const { rows } = await db.raw<{ rows: (Candidate & { pitchId: number })[] }>(
    `
      select
        a.id as "pitchId",
        c.id,
        c.title,
        c.stage,
        c.run_local as "runLocal"
      from
        unnest(?::int[], ?::text[]) as a (id, query)
        cross join lateral (
          select
            p.id,
            p.title,
            p.stage,
            p.run_local
          from
            posts p
          where
            p.blog_id = ?
            and p.id < a.id
            and ${ofCandidates.text}
            and p.search @@ to_tsquery('english', a.query)
          order by
            ts_rank('{0, 0, 0, 1}', p.search, to_tsquery('english', a.query)) desc,
            p.id
          limit
            ?
        ) c
    `,
    [asked.map((a) => a.id), asked.map((a) => a.query), person.blogId, ...ofCandidates.values, CANDIDATES],
  );
  const candidates = new Map<number, Candidate[]>();
  for (const { pitchId, ...post } of rows)
    candidates.set(pitchId, [...(candidates.get(pitchId) ?? []), post]);
  return pitches.flatMap(({ id, title }): PitchAlike[] => {
    const found = mostAlike(title, candidates.get(id) ?? []);
    return found ? [{ id, alike: found.post, score: found.score, shared: found.shared }] : [];
  });
}
