/** The letter that goes to all subscribers when its post is released. */
export interface LetterAtRelease {
  /** Subscribers who would get it now. */
  subscribers: number;
  /** Why it cannot be sent, as a sentence; empty where it can. */
  withheld: string;
}

const toSubscribers = (n: number): string => (n === 1 ? '1 subscriber' : `${n} subscribers`);

/** Says before a release what becomes of the post's letter. */
export function formatLetterAtRelease({ subscribers, withheld }: LetterAtRelease): string {
  if (withheld !== '') return `Its letter cannot be sent and will wait as a draft. ${withheld}`;
  if (subscribers === 0) return 'Its letter reaches nobody: there are no confirmed subscribers yet.';
  return `A letter to ${toSubscribers(subscribers)} is sent with the release and cannot be called back.`;
}

/** The same of several posts that are released by one batch. */
export const formatLettersAtRelease = ({
  letters,
  subscribers,
}: {
  letters: number;
  subscribers: number;
}): string =>
  letters === 1
    ? `One of these posts mails itself: ${formatLetterAtRelease({ subscribers, withheld: '' })}`
    : `${letters} of these posts mail themselves: a letter to ${toSubscribers(subscribers)} is sent with each release and cannot be called back.`;
