import { isFillerFree } from '../slug/slug.js';
import { hasVerb } from '../text/clause.js';
import { isClosed, type SourceSentence } from './source.js';

/** Words that point back at something said before. */
const POINTING =
  /^(?:["“‘(]\s*)?(?:this|that|these|those|it|its|it[’']s|they|they[’']\p{L}+|them|their|theirs|he|she|him|his|her|hers|here|there(?! (?:is|are|was|were|has|have|will|can|may|must|should)\b)|both|such|neither|either way|another|others|the (?:first|second|third|last|latter|former|same|other|others|rest|result|reason|answer|trick|point)|(?:one|some|most|all|none|many|each|half|two|three) of (?:it|them|these|those|this|that)|what follows)\b/iu;
/** Words that go on from something said before. */
const GOING_ON =
  /^(?:but|and|so|or|nor|then|also|however|therefore|thus|hence|instead|otherwise|yet|still|meanwhile|moreover|furthermore|besides|similarly|likewise|rather|indeed|finally|lastly|next,|later,|afterwards|again|too|even so|as a result|in (?:that|this) (?:case|way)|(?:after|before|at|by|until|since|from|because of|apart from|despite|like|with|without|for) (?:that|this|these|those|it|them)|only then|of course|for (?:example|instance)|in other words|in short|in (?:turn|fact|contrast)|on the (?:other hand|contrary)|which|more than that|not (?:so|only)|no more|same|secondly|thirdly|first(?:ly)?,|second,|third,|once more|no[,.]|yes[,.]|now,|true,|well,|perhaps not|nothing else|either)(?![\p{L}\p{N}])/iu;
/** A clause before the main one that speaks of something said before: “when it thaws”, “if they ask”. */
const CLAUSE_POINTING =
  /^(?:if|when|once|until|after|before|because|since|while|where|as|though|although|unless|whether)\s+(?:they|them|he|she|this|that|these|those|so|not|it(?! (?:rains?|snows?|freezes|thaws|gets|comes to|takes|is (?:too |so |very )?(?:cold|hot|wet|dry|dark|light|late|early|raining|snowing|windy|possible|necessary))))\b/iu;
/** “Chief among these motives”, “for all this time”. */
const NEAR_POINTING = /^(?:[\p{L}’'-]+\s+){1,4}(?:these|those|this)\b/iu;
/** An order about something said before: “leave it open”. */
const ORDER_POINTING = /^\p{L}+\s+(?:it|them|him|her|these|those|both)\b/iu;
/** “I look at it most mornings”: nothing in the piece says what “it” is. */
const IT_POINTING = /^(?:I|We|You)\s+\S+(?:\s+(?:at|to|for|with|on|in|of|up|out|from|about|over))?\s+it\b/iu;
/** A place that only what was said before tells: “come here”. */
const ELSEWHERE = /\b(?:here|(?<!(?:in|out|over|and) )there(?=[.,;]|$))/iu;
/** “A tight one says nothing”: which of what is not said. */
const ONE_POINTING =
  /^(?:[\p{L}’'-]+\s+){0,2}(?:a|an|the|this|that|my|your|each|every|another)\s+(?:[\p{L}-]+\s+)?ones?(?=[\s.,;]|$)/iu;

/** Who is meant is not said in the sentence: no name or noun stands before the word. */
function speaksOfSomebodyUnnamed(text: string): boolean {
  const words = text.match(/[\p{L}\p{N}'’-]+/gu) ?? [];
  for (const [i, word] of words.entries()) {
    const before = words.slice(0, i);
    if (/^(?:he|she|him|his|hers)$/i.test(word) && !before.some(isSomebody)) return true;
    if (
      /^(?:they|them|themselves)$/i.test(word) &&
      !before.some((w) =>
        /[^s]s$|^(?:people|children|men|women|everybody|somebody|nobody|anyone|and)$/i.test(w),
      )
    )
      return true;
  }
  return false;
}

/** A name, or a word for a person. */
const isSomebody = (word: string) =>
  (/^\p{Lu}/u.test(word) && isFillerFree(word.toLowerCase())) ||
  /^(?:m[ae]n|wom[ae]n|person|people|body|boy|girl|child|mother|father|uncle|aunt|brother|sister|son|daughter|friend|keeper|neighbour)$/i.test(
    word,
  ) ||
  /(?:er|or|ist|man|woman)$/i.test(word);

const QUOTED = /“[^”]*”|"[^"]*"|‘[^’]*’(?!\p{L})/gu;

/** Does this sentence say nothing without the one before it? */
export function isHanging(text: string): boolean {
  // Who speaks has to be known; what is quoted may speak of anything, but does not say who.
  const unquoted = text.replace(QUOTED, ' ').trim();
  return [text, unquoted].some(
    (t) =>
      POINTING.test(t) ||
      GOING_ON.test(t) ||
      CLAUSE_POINTING.test(t) ||
      NEAR_POINTING.test(t) ||
      IT_POINTING.test(t) ||
      ONE_POINTING.test(t) ||
      ELSEWHERE.test(t.replace(/^["“‘(]/u, '')) ||
      (ORDER_POINTING.test(t) && !/^(?:I|We|You|Who|What|Do|Is|Was|Are|If|When)\b/iu.test(t)) ||
      speaksOfSomebodyUnnamed(t),
  );
}

/** Can a question be asked without what was said before it? */
export const isOpenQuestion = (text: string): boolean =>
  /^[^?“”"—]{1,140}\?$/u.test(text) &&
  isClosed(text) &&
  !isHanging(text) &&
  !/\b(?:it|this|that|these|those|they|them|here|then)\b/iu.test(text);

const REFERRING =
  /\b(?:see (?:above|below)|(?:shown|described|listed|mentioned|pictured|said) (?:above|below)|(?:as|the) follow(?:s|ing)|(?:this|the (?:next|last|previous|following)) (?:section|paragraph|part|chapter|table|picture|photo|list)|the table|next month|last month|in (?:this|the) (?:post|article))\b/iu;
/** How sentences end, whatever closes behind it. */
const ENDED = /[.!…。！．][)\]”"’»]*$/u;

/** A sentence of more words is nothing to tell on. */
const LONGEST = 60;

/**
 * Can this be told on as it is? A whole sentence, its quotations closed, that asks nothing and refers to no other
 * place of the post.
 */
export const isUsable = ({ text }: SourceSentence, words: number): boolean =>
  words <= LONGEST &&
  isClosed(text) &&
  ENDED.test(text) &&
  !REFERRING.test(text) &&
  !text.replace(QUOTED, '').includes('?') &&
  !/^[\p{Ll},;:)]/u.test(text);

/** Does it say something by itself? It has a verb, and points at nothing that was said before. */
export const isSelfContained = (text: string): boolean => hasVerb(text) && !isHanging(text);
