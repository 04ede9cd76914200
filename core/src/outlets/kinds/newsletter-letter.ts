import type { Ranked } from '../choose.js';
import { type Rule, TOO_LITTLE } from '../maker.js';
import { CLOSINGS, GREETINGS, joined } from '../words.js';

export const newsletterLetter: Rule = (m) => {
  const lead = m.ranked.pick(m.max(2), { ...m.wanted });
  const leads = new Set(lead.map((l) => l.at));
  const sections = m.headings(5).flatMap((h) => {
    const picked = m.ranked.pick(2, {
      ...m.wanted,
      underHeading: true,
      only: new Set(
        m.ranked.ranked
          .filter(
            (r) =>
              r.sentence.section === h.section &&
              !leads.has(r.at) &&
              (!m.wanted.only || m.wanted.only.has(r.at)),
          )
          .map((r) => r.at),
      ),
    });
    return picked.length === 0
      ? []
      : [
          {
            text: `${h.text}\n${joined(picked.map((t) => t.text))}`,
            used: [h.at, ...picked] as (Ranked | number)[],
          },
        ];
  });
  if (lead.length === 0) return TOO_LITTLE;
  const close = `${CLOSINGS[m.read.tone]}\n${m.source.byline || m.source.blog}`;
  for (let n = m.read.max?.unit === 'sentences' ? 0 : sections.length; n >= 0; n--) {
    const text = m.stack(
      GREETINGS[m.read.tone],
      m.say(joined(lead.map((l) => l.text))),
      ...sections.slice(0, n).map((s) => s.text),
      m.call,
      close,
    );
    if (m.fits(text))
      return {
        subject: m.source.title,
        parts: [text],
        used: [...lead, ...sections.slice(0, n).flatMap((s) => s.used)],
      };
  }
  const short =
    m.fill(1, (text, call) => m.stack(GREETINGS[m.read.tone], text, call, close)) ??
    m.fill(1, (text, call) => m.stack(text, call));
  return short ? { subject: m.source.title, parts: [short.text], used: short.used } : TOO_LITTLE;
};
