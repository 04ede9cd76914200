import type { Ranked } from '../choose.js';
import type { Rule } from '../maker.js';
import { joined } from '../words.js';

export const gallery: Rule = (m) => {
  const pictures = m.source.pictures.filter((p) => p.media !== 0);
  if (pictures.length === 0) return 'The post has no pictures to caption.';
  const used: Ranked[] = [];
  const parts = pictures.slice(0, 10).map((picture) => {
    const near = m.ranked.best({
      ...m.wanted,
      only: new Set(
        m.ranked.ranked
          .filter((r) => r.sentence.section === picture.section && !used.includes(r))
          .map((r) => r.at),
      ),
    })[0];
    if (near) used.push(m.ranked.ranked.find((r) => r.at === near.at)!);
    const said = picture.caption || picture.alt;
    return (
      [
        joined([said && !/[.!?…]$/u.test(said) ? `${said}.` : said, near?.text ?? ''].filter(Boolean)),
        said,
        near?.text ?? '',
      ].find((t) => t !== '' && m.fits(t)) ?? m.source.title
    );
  });
  const end = m.stack(parts[0]!, [m.call, m.tags.join(' ')].filter(Boolean).join('\n'));
  if (m.fits(end)) parts[0] = end;
  return { parts, tags: m.tags, used };
};
