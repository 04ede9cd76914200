import type { Ranked } from '../choose.js';
import type { Rule } from '../maker.js';

export const digest: Rule = (m) => {
  const posts = [m.ranked, ...(m.ask.others ?? [])];
  if (posts.length < 2) return 'A digest needs at least one more post. Choose which.';
  const used: Ranked[] = [];
  const items = posts.map((post) => {
    const best =
      post === m.ranked
        ? m.ranked.alone(m.wanted)[0]
        : (post.alone({ stress: m.read.stress })[m.turn % 2] ?? post.alone()[0]);
    if (post === m.ranked && best) used.push(best);
    return {
      title: post.source.title,
      // What the author says of another post in a sentence; of this one the sentence that can be shaded.
      text: (post === m.ranked ? best?.text : post.source.excerpt) || best?.text || post.source.excerpt,
      url: (m.read.link ?? true) && m.ask.outlet.limits.links ? post.source.url : '',
    };
  });
  const full = (n: number, described: boolean) =>
    m.stack(
      ...items.slice(0, n).map((i) => [i.title, described ? i.text : '', i.url].filter(Boolean).join('\n')),
    );
  for (const described of [true, false]) {
    for (let n = items.length; n >= 2; n--)
      if (m.fits(full(n, described)))
        return { subject: `${m.source.title}, and ${n - 1} more`, parts: [full(n, described)], used };
  }
  return 'There is not room for even two of the posts.';
};
