import { stemOf } from './stem.js';

const LINKING =
  'am is are was were be been being have has had do does did will would can could shall should may might must ' +
  'cannot became become becomes went gone came got made said told knew thought saw felt stood sat lay ran took gave ' +
  'brought bought kept left lost found held sent spent met spoke wrote rose fell grew broke began ate drank slept';
/** Common verbs of English that are hardly ever nouns, by their stems (a list of our own). */
const VERBS =
  'add appear ask become begin believe belong bend bring burn buy carry choose clean climb close come depend die do ' +
  'eat explain feel find float fly follow forget freeze get give go grow hang happen have hear help hide hold join ' +
  'keep know learn leave let lie lose make mean meet melt mend miss move need open owe own pass pay prove pull push ' +
  'put reach read remember remove repeat run save say see seem sell send serve shrink sing sink sit sleep speak spend ' +
  'squeal stand start stay steer stir stop swell swim take talk teach tell thaw thicken think throw tie try use want ' +
  'wash win wipe write';
/** Verbs with which instructions begin (a list of our own): a sentence that starts with one is a step. */
const IMPERATIVES = new Set(
  (
    'add adjust allow apply ask attach avoid bleed bring brush buy call carry change ' +
    'check choose clean clear close collect connect cook count cover cut date dig ' +
    'disconnect do drain draw dry empty ' +
    'ensure fasten fetch fill find fit fix flush fold follow get give grease hang heat ' +
    'hold inspect keep learn leave let lift light loosen look lower make mark measure meet mend mix ' +
    'move note oil open order pack ' +
    'paint pick place plan plug pour press prime pull pump push put raise read remove ' +
    'repeat replace rest rinse run scrape screw seal secure set shake shut slacken slow ' +
    'soak sort spread start stay stir ' +
    'stop store strip switch take tap test tie tighten top touch trim try turn twist ' +
    'undo unplug unscrew use walk warm wash watch wear weigh wipe work wrap write'
  ).split(' '),
);

const linking = new Set(LINKING.split(' '));
const verbs = new Set(VERBS.split(' ').map(stemOf));
const SUBJECTS = new Set([
  'i',
  'we',
  'you',
  'he',
  'she',
  'they',
  'it',
  'who',
  'nobody',
  'somebody',
  'everybody',
]);
/** Before a subject stands nothing, or one of these; “a field I know” has none of its own. */
const JOINING = new Set('and but or so then yet nor also now today here there how what why'.split(' '));
/** After one of these stands a noun. */
const BEFORE_NOUN = new Set(
  (
    'a an the this that these those my your his her its our their some any no every each both all two three four ' +
    'five six seven eight nine ten eleven twelve of with for in on at by from about under over between'
  ).split(' '),
);
const CONTRACTED =
  /(?:n['’]t|(?:^|[^s])['’](?:re|ve|ll|d|m)|^(?:it|that|there|he|she|who|what|here|let)['’]s)$/u;

/**
 * Has a sentence of English a verb of its own, or is it a fragment (“Four hours, eleven locks, one flask.”)?
 * By closed classes of words and a list of common verbs; a sentence in other letters than Latin counts as whole.
 */
export function hasVerb(sentence: string): boolean {
  if (
    /\p{Script=Han}|\p{Script=Hiragana}|\p{Script=Cyrillic}|\p{Script=Arabic}|\p{Script=Greek}/u.test(
      sentence,
    )
  )
    return true;
  // What a conjunction hangs on does not make the rest a sentence: “Gloves, because you will want them.”
  const clauses = sentence.split(/[,;:—–]|\s(?=(?:because|although|though|unless|until|if)\s)/u);
  return clauses.some((clause) => !SUBORDINATE.test(clause) && clauseHasVerb(clause));
}

/** “A sharp spade halves the work”: a form in -s between a subject and what it acts upon. */
const TRANSITIVE =
  /^\s*\S+\s+(?:\S+\s+){0,4}\p{Ll}{2,}[^s’']s\s+(?:the|a|an|my|your|his|her|its|our|their|it|you|us|me|them|nothing|everything|twice|once)\b/u;

const SUBORDINATE =
  /^\s*(?:because|although|though|unless|until|if|when|while|since|as|where|which|who|whose|that|so that|after|before|once)\s/iu;

function clauseHasVerb(clause: string): boolean {
  if (TRANSITIVE.test(clause)) return true;
  const words = clause.toLowerCase().match(/[\p{L}\p{N}'’-]+/gu) ?? [];
  return words.some((word, i) => {
    if (linking.has(word) || CONTRACTED.test(word) || (i === 0 && isImperative(word))) return true;
    const before = words[i - 1];
    if (before !== undefined && BEFORE_NOUN.has(before)) return false;
    const ofRelative = before !== undefined && i > 1 && SUBJECTS.has(before) && !JOINING.has(words[i - 2]!);
    if (ofRelative) return false;
    return (
      (SUBJECTS.has(word) && (before === undefined || JOINING.has(before))) ||
      /\p{L}{2}ed$/u.test(word) ||
      (!word.endsWith('ing') && verbs.has(stemOf(word)))
    );
  });
}

/** Does this sentence tell somebody to do something, by its first word? */
export function isImperative(sentence: string): boolean {
  const first = /^\p{L}+/u.exec(sentence)?.[0] ?? '';
  return IMPERATIVES.has(first.toLowerCase()) && !sentence.endsWith('?');
}
