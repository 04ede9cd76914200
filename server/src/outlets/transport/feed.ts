import { call } from './call.js';
import { errorOutcome, outcomeOf, type Transport } from './transport.js';

/**
 * For those who fetch: the piece stands in the outlet's feed from now on, and the hub is told (WebSub, W3C
 * Recommendation 2018, section 7). Telling twice does no harm, so nothing here is ever unsure. Without a hub
 * the feed is all there is.
 */
export const feedTransport: Transport = async (to, parcel, steps, keep) => {
  if (!steps.inFeed) await keep({ ...steps, inFeed: true });
  if (to.address === '')
    return { outcome: 'sent', url: parcel.url, sentence: 'It is in the feed. No hub is told.' };
  for (const topic of [`${to.feed}.json`, `${to.feed}.atom`]) {
    const answer = await call(
      to.address,
      {
        method: 'POST',
        headers: { 'content-type': 'application/x-www-form-urlencoded' },
        body: new URLSearchParams({ 'hub.mode': 'publish', 'hub.topic': topic, 'hub.url': topic }).toString(),
      },
      to.allowed,
    ).catch(errorOutcome);
    if ('outcome' in answer)
      return {
        ...answer,
        outcome: answer.outcome === 'no' ? 'no' : 'again',
        sentence: `It is in the feed. The hub was not told: ${answer.sentence}`,
      };
    if (answer.status < 200 || answer.status >= 300) return { ...outcomeOf('The hub', answer) };
  }
  return { outcome: 'sent', url: parcel.url, sentence: 'It is in the feed, and the hub was told.' };
};
