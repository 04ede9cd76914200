import type { TaskOf } from '../live/types.js';
import type { RoutesOf } from '../route.js';
import type {
  LetterChanges,
  LetterDoubt,
  LetterLine,
  LetterOfPost,
  LetterPreview,
  LetterView,
  NewLetter,
  NewSubscriber,
  RestoredSubscribers,
  RestoreSubscribers,
  SubscriberChanges,
  SubscribersImported,
  SubscribersPage,
  SubscribersQuery,
  SubscriberView,
} from './types.js';

/** What goes in and comes out of each route. */
export interface LettersRoutes {
  'subscribers.list': { query: SubscribersQuery; reply: SubscribersPage };
  'subscribers.add': { body: NewSubscriber; reply: SubscriberView };
  'subscribers.change': { id: true; body: SubscriberChanges; reply: SubscriberView };
  'subscribers.remove': { id: true; reply: null };
  'subscribers.restore': { body: RestoreSubscribers; reply: RestoredSubscribers };
  'subscribers.import': { file: true; query: TaskOf; reply: SubscribersImported };
  'subscribers.export': { reply: never };
  'letters.list': { reply: LetterLine[] };
  'letters.add': { body: NewLetter; reply: LetterView };
  'letters.ofPost': { id: true; reply: LetterOfPost };
  'letters.see': { id: true; reply: LetterView };
  'letters.change': { id: true; body: LetterChanges; reply: LetterView };
  'letters.remove': { id: true; reply: null };
  'letters.preview': { id: true; reply: LetterPreview };
  'letters.try': { id: true; body: object; reply: { to: string } };
  'letters.send': { id: true; body: object; reply: LetterView };
  'letters.stop': { id: true; body: object; reply: LetterView };
  'letters.resume': { id: true; body: object; reply: LetterView };
  'letters.settle': { id: true; body: LetterDoubt; reply: LetterView };
}

/** Who may call what, and where. */
export const LETTERS_ROUTES = {
  'subscribers.list': {
    method: 'GET',
    path: '/api/subscribers',
    who: 'manageBlog',
    summary: 'Who signed up for the letter, the newest first, with how many stand where',
  },
  'subscribers.add': {
    method: 'POST',
    path: '/api/subscribers',
    who: 'manageBlog',
    summary: 'Put somebody down, who is asked by mail to confirm',
    status: 201,
  },
  'subscribers.change': {
    method: 'PATCH',
    path: '/api/subscribers/:id',
    who: 'manageBlog',
    saves: 'subscriber',
    summary: 'Change the name of a subscriber, or take them off the list',
  },
  'subscribers.remove': {
    method: 'DELETE',
    path: '/api/subscribers/:id',
    who: 'manageBlog',
    saves: 'subscriber',
    summary:
      'Delete a subscriber; only a digest of the address is kept, so that no file puts it on the list again',
    status: 204,
  },
  'subscribers.restore': {
    method: 'POST',
    path: '/api/subscribers/restore',
    who: 'manageBlog',
    summary: 'Put subscribers who could not be reached on the list again',
    status: 201,
  },
  'subscribers.import': {
    method: 'POST',
    path: '/api/subscribers/import',
    who: 'manageBlog',
    summary: 'Add the people in a file of comma-separated values, who agreed elsewhere',
    file: true,
    status: 201,
  },
  'subscribers.export': {
    method: 'GET',
    path: '/api/subscribers.csv',
    who: 'manageBlog',
    summary: 'All subscribers, as CSV (RFC 4180)',
  },
  'letters.list': {
    method: 'GET',
    path: '/api/letters',
    who: 'writeLetters',
    summary: 'Letters to subscribers, the newest first, with what came of each',
  },
  'letters.add': {
    method: 'POST',
    path: '/api/letters',
    who: 'writeLetters',
    summary: 'Draft a letter from posts',
    status: 201,
  },
  'letters.ofPost': {
    method: 'GET',
    path: '/api/posts/:id/letter',
    who: 'enterNewsroom',
    summary:
      'The letter that is sent with the release of a post: to how many, why it cannot be, and what came of it',
  },
  'letters.see': {
    method: 'GET',
    path: '/api/letters/:id',
    who: 'writeLetters',
    summary: 'One letter',
  },
  'letters.change': {
    method: 'PUT',
    path: '/api/letters/:id',
    who: 'writeLetters',
    saves: 'letter',
    summary: 'Change a letter that is a draft',
  },
  'letters.remove': {
    method: 'DELETE',
    path: '/api/letters/:id',
    who: 'writeLetters',
    saves: 'letter',
    summary: 'Delete a letter that is a draft',
    status: 204,
  },
  'letters.preview': {
    method: 'GET',
    path: '/api/letters/:id/preview',
    who: 'writeLetters',
    summary: 'A letter as its recipients get it, as HTML and as plain text',
  },
  'letters.try': {
    method: 'POST',
    path: '/api/letters/:id/trial',
    who: 'writeLetters',
    summary: 'Send the letter to oneself alone',
    status: 201,
  },
  'letters.send': {
    method: 'POST',
    path: '/api/letters/:id/send',
    who: 'writeLetters',
    ifMatch: 'required',
    summary: 'Send a draft to all subscribers, each once',
    status: 201,
  },
  'letters.stop': {
    method: 'POST',
    path: '/api/letters/:id/stop',
    who: 'writeLetters',
    summary: 'Stop a letter that is being sent; who has it, has it',
    status: 201,
  },
  'letters.resume': {
    method: 'POST',
    path: '/api/letters/:id/resume',
    who: 'writeLetters',
    summary: 'Send a stopped letter on to those who have not had it',
    status: 201,
  },
  'letters.settle': {
    method: 'POST',
    path: '/api/letters/:id/doubt',
    who: 'writeLetters',
    summary: 'Say what is done about those who may have the letter or not',
    status: 201,
  },
} as const satisfies RoutesOf<LettersRoutes>;
