import type { Handlers } from '../http/handlers.js';
import { answerComment, listComments, moveComments, removeComment, undoMove } from './moderate.js';

export const commentHandlers: Handlers = {
  'comments.list': ({ trx, person, query }) => listComments(trx, person, query),
  'comments.move': ({ trx, person, body }) => moveComments(trx, person, body),
  'comments.undo': ({ trx, person, id }) => undoMove(trx, person, id),
  'comments.answer': ({ trx, person, id, body }) => answerComment(trx, person, id, body.text),
  'comments.remove': ({ trx, person, id }) => removeComment(trx, person, id),
};
