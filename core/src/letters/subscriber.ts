/** The state of somebody who signed up for the letter. */
export const SUBSCRIBER_STATES = ['asked', 'active', 'left', 'bounced'] as const;
export type SubscriberState = (typeof SUBSCRIBER_STATES)[number];

export const SUBSCRIBER_STATE_NAMES: Readonly<Record<SubscriberState, string>> = {
  asked: 'not confirmed yet',
  active: 'gets the letter',
  left: 'unsubscribed',
  bounced: 'cannot be reached',
};

/** Letters in a row whose recipient was refused permanently. Common practice, no published source. */
export const MAX_BOUNCES = 2;

/**
 * The state of a subscriber whose address was refused permanently by so many different letters in a row. One refusal
 * may be a mistake of a mail server; the second ends the subscription.
 */
export const afterBounces = (state: SubscriberState, inARow: number): SubscriberState =>
  state === 'active' && inARow >= MAX_BOUNCES ? 'bounced' : state;
