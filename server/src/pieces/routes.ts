import { prepared, type Handlers } from '../http/handlers.js';
import { planEvergreens, prepareEvergreens, proposeEvergreens } from './evergreen.js';
import { addOutlet, changeOutlet, listOutlets } from '../outlets/outlets.js';
import { tryOutlet } from '../outlets/trial.js';
import { seePicture } from './pictures.js';
import {
  changePiece,
  storePiece,
  storePieces,
  prepareKeeping,
  preparePieces,
  removePiece,
  setTimes,
} from './pieces.js';
import { storeRebuilt, prepareRebuild, restorePiece } from './rebuild.js';
import { approvePiece, approveRollout } from './approvals.js';
import {
  addPattern,
  changePattern,
  listPatterns,
  patternFrom,
  preparePattern,
  removePattern,
} from './patterns.js';
import { plannerPieces } from './planner-pieces.js';
import { seeRollout, spreadRollout } from './rollout.js';
import { answerSend, changeSending, listSends, seeSend, seeSending, sendAgain } from './sends.js';

export const outletHandlers: Handlers = {
  'outlets.list': ({ trx, person }) => listOutlets(trx, person),
  'outlets.add': ({ trx, person, body }) => addOutlet(trx, person, body),
  'outlets.change': ({ id, body, ...change }) => changeOutlet(change, id, body),
  'outlets.try': prepared(
    ({ services, person, id }) => tryOutlet(services.db, person, id, services.settings),
    (_call, said) => said,
  ),
  'sending.see': ({ trx, person }) => seeSending(trx, person.blogId),
  'sending.change': ({ trx, person, body }) => changeSending(trx, person, body.stopped),
  'rollout.see': ({ trx, person, id }) => seeRollout(trx, person, id),
  'pieces.make': prepared(
    ({ services, person, id, body }) => preparePieces(services.db, person, id, body),
    ({ trx, person }, ready) => storePieces(trx, person, ready),
  ),
  'pieces.change': async ({ trx, person, id, ifMatch, body }) =>
    seeRollout(trx, person, await changePiece(trx, person, id, ifMatch, body)),
  'pieces.rebuild': prepared(
    ({ services, person, id, ifMatch, body }) => prepareRebuild(services.db, person, id, ifMatch, body),
    async ({ trx, person, id }, ready) => seeRollout(trx, person, await storeRebuilt(trx, person, id, ready)),
  ),
  'pieces.restore': async ({ trx, person, id, ifMatch, body }) =>
    seeRollout(trx, person, await restorePiece(trx, person, id, ifMatch, body)),
  'pieces.keep': prepared(
    ({ services, person, id }) => prepareKeeping(services.db, person, id),
    async ({ trx, person, id }, ready) => seeRollout(trx, person, await storePiece(trx, person, id, ready)),
  ),
  'pieces.remove': async ({ trx, person, id }) => seeRollout(trx, person, await removePiece(trx, person, id)),
  'pieces.approve': async ({ trx, person, id, body }) =>
    seeRollout(trx, person, await approvePiece(trx, person, id, body)),
  'pieces.picture': prepared(
    ({ services, person, id }) => seePicture(services.db, person, id),
    ({ res }, png) => {
      // The address carries the piece's version, so a picture at it never changes.
      res.set('Cache-Control', 'private, max-age=86400').type('png').send(png);
      return undefined as never;
    },
  ),
  'rollout.approve': async ({ trx, person, id, body }) => {
    const staying = await approveRollout(trx, person, id, body);
    return { ...(await seeRollout(trx, person, id)), staying };
  },
  'rollout.spread': async ({ trx, person, id }) => {
    await spreadRollout(trx, person, id);
    return seeRollout(trx, person, id);
  },
  'rollout.times': async ({ trx, person, id, body }) => {
    await setTimes(trx, person, id, body);
    return seeRollout(trx, person, id);
  },
  'rollout.use': prepared(
    ({ services, person, id, body }) => preparePattern(services.db, person, id, body.patternId),
    ({ trx, person }, ready) => storePieces(trx, person, ready),
  ),
  'patterns.list': ({ trx, person }) => listPatterns(trx, person.blogId),
  'patterns.add': ({ trx, person, body }) => addPattern(trx, person, body),
  'patterns.from': ({ trx, person, body }) => patternFrom(trx, person, body),
  'patterns.change': ({ id, body, ...change }) => changePattern(change, id, body),
  'patterns.remove': ({ id, ...change }) => removePattern(change, id),
  'sends.list': ({ trx, person, query }) => listSends(trx, person, query),
  'sends.see': ({ trx, person, id }) => seeSend(trx, person, id),
  'sends.answer': ({ trx, person, id, body }) => answerSend(trx, person, id, body),
  'sends.again': ({ trx, person, id }) => sendAgain(trx, person, id),
  'evergreens.see': ({ trx, person, query }) => proposeEvergreens(trx, person, query),
  'evergreens.plan': prepared(
    ({ services, person, body }) => prepareEvergreens(services.db, person, body),
    ({ trx, person }, ready) => planEvergreens(trx, person, ready),
  ),
  'planner.pieces': ({ trx, person, query }) => plannerPieces(trx, person, query),
};
