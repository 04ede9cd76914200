/** Where somebody stands who signed up for the letter. */
export const SUBSCRIBER_STATES = ['asked', 'active', 'left', 'bounced'] as const;
export type SubscriberState = (typeof SUBSCRIBER_STATES)[number];

export const SUBSCRIBER_STATE_NAMES: Readonly<Record<SubscriberState, string>> = {
  asked: 'not confirmed yet',
  active: 'gets the letter',
  left: 'unsubscribed',
  bounced: 'cannot be reached',
};

/** Letters in a row that may not get through for now. Common practice, no published source. */
export const MAX_BOUNCES = 3;

/**
 * What becomes of a subscriber to whom a letter could not be delivered: at once unreachable when the address does not
 * exist, after some letters in a row when it only could not be reached for now.
 */
export function afterBounce(
  before: { state: SubscriberState; bounces: number },
  lasting: boolean,
): { state: SubscriberState; bounces: number } {
  const bounces = before.bounces + 1;
  const lost = before.state === 'active' && (lasting || bounces >= MAX_BOUNCES);
  return { state: lost ? 'bounced' : before.state, bounces };
}
