import type { Ranked } from '../choose.js';
import type { Rule } from '../maker.js';
import { joined } from '../words.js';

const MAX_PICTURES = 10;

/** Pictures with a caption each; they go out together, so that all captions have to fit as one text. */
export const gallery: Rule = (m) => {
  const pictures = m.source.pictures.filter((p) => p.media !== 0).slice(0, MAX_PICTURES);
  if (pictures.length === 0) return 'The post has no pictures to caption.';
  const taken = new Set<number>();
  const captioned = pictures.map((picture) => {
    const inSection = m.ranked.ranked.filter(
      (r) => r.sentence.section === picture.section && !taken.has(r.at) && m.wanted.only?.has(r.at) !== false,
    );
    const near = m.ranked.alone({ ...m.wanted, only: new Set(inSection.map((r) => r.at)) })[0] ?? null;
    if (near) taken.add(near.at);
    const said = picture.caption || picture.alt;
    return { said: said && !/[.!?…]$/u.test(said) ? `${said}.` : said, near };
  });
  for (const more of [true, false]) {
    for (let n = pictures.length; n > 0; n--) {
      const shown = captioned.slice(0, n);
      const captions = shown.map(
        ({ said, near }) =>
          joined([said, more || said === '' ? (near?.text ?? '') : ''].filter(Boolean)) || m.source.title,
      );
      const used = shown.flatMap(({ said, near }): Ranked[] => (near && (more || said === '') ? [near] : []));
      for (const end of [[m.call, m.tags.join(' ')].filter(Boolean).join('\n'), m.link, '']) {
        const parts = [m.stack(m.audience, captions[0]!, end), ...captions.slice(1)];
        if (m.fits(parts.join('\n\n'))) return { parts, tags: m.tags, used };
      }
      // Rather all pictures with their captions alone than one of them with a tale.
      if (more) break;
    }
  }
  return 'Not even one picture’s caption fits here.';
};
