import type {
  Approval,
  ApprovedRollout,
  EvergreenPlan,
  EvergreenQuery,
  EvergreenView,
  NewOutlet,
  NewPattern,
  NewPieces,
  OutletChanges,
  OutletView,
  PatternFrom,
  PatternUse,
  PatternView,
  PictureQuery,
  PieceChanges,
  PieceTimes,
  PieceRestore,
  PiecesMade,
  PlannerPiece,
  PlannerPiecesQuery,
  Rebuild,
  RolloutView,
  Said,
  SendAnswer,
  SendView,
  SendWhole,
  SendingChange,
  SendingView,
  SendsQuery,
} from './types.js';
import type { RoutesOf } from '../route.js';

/** What goes in and comes out of each route. */
export interface OutletsRoutes {
  'outlets.list': { reply: OutletView[] };
  'outlets.add': { body: NewOutlet; reply: OutletView };
  'outlets.change': { id: true; body: OutletChanges; reply: OutletView };
  'outlets.try': { id: true; body: object; reply: Said };
  'sending.see': { reply: SendingView };
  'sending.change': { body: SendingChange; reply: SendingView };
  'rollout.see': { id: true; reply: RolloutView };
  'pieces.make': { id: true; body: NewPieces; reply: PiecesMade };
  'pieces.change': { id: true; body: PieceChanges; ifMatch: 'required'; reply: RolloutView };
  'pieces.rebuild': { id: true; body: Rebuild; ifMatch: 'required'; reply: RolloutView };
  'pieces.restore': { id: true; body: PieceRestore; ifMatch: 'required'; reply: RolloutView };
  'pieces.keep': { id: true; body: object; reply: RolloutView };
  'pieces.remove': { id: true; reply: RolloutView };
  'pieces.approve': { id: true; body: Approval; reply: RolloutView };
  'pieces.picture': { id: true; query: PictureQuery; reply: never };
  'rollout.approve': { id: true; body: Approval; reply: ApprovedRollout };
  'rollout.spread': { id: true; body: object; reply: RolloutView };
  'rollout.times': { id: true; body: PieceTimes; reply: RolloutView };
  'rollout.use': { id: true; body: PatternUse; reply: PiecesMade };
  'patterns.list': { reply: PatternView[] };
  'patterns.add': { body: NewPattern; reply: PatternView[] };
  'patterns.from': { body: PatternFrom; reply: PatternView[] };
  'patterns.change': { id: true; body: NewPattern; reply: PatternView[] };
  'patterns.remove': { id: true; reply: PatternView[] };
  'sends.list': { query: SendsQuery; reply: SendView[] };
  'sends.see': { id: true; reply: SendWhole };
  'sends.answer': { id: true; body: SendAnswer; reply: SendWhole };
  'sends.again': { id: true; body: object; reply: SendWhole };
  'evergreens.see': { query: EvergreenQuery; reply: EvergreenView[] };
  'evergreens.plan': { body: EvergreenPlan; reply: PiecesMade };
  'planner.pieces': { query: PlannerPiecesQuery; reply: PlannerPiece[] };
}

/** Who may call what, and where. */
export const OUTLETS_ROUTES = {
  'outlets.list': { method: 'GET', path: '/api/outlets', who: 'enterNewsroom', summary: 'The outlets' },
  'outlets.add': {
    method: 'POST',
    path: '/api/outlets',
    who: 'manageOutlets',
    summary: 'Add an outlet',
    status: 201,
  },
  'outlets.change': {
    method: 'PATCH',
    path: '/api/outlets/:id',
    who: 'sendPieces',
    saves: 'outlet',
    summary: 'Change, pause or close an outlet',
  },
  'outlets.try': {
    method: 'POST',
    path: '/api/outlets/:id/trials',
    who: 'manageOutlets',
    summary: 'Ask an outlet whether it would take a piece, without sending one',
  },
  'sending.see': {
    method: 'GET',
    path: '/api/sending',
    who: 'enterNewsroom',
    summary: 'Whether sending is stopped',
  },
  'sending.change': {
    method: 'PUT',
    path: '/api/sending',
    who: 'sendPieces',
    summary: 'Stop all sending, or let it go on',
  },
  'rollout.see': {
    method: 'GET',
    path: '/api/posts/:id/rollout',
    who: 'enterNewsroom',
    summary: 'The pieces of a post, and when they go out',
  },
  'pieces.make': {
    method: 'POST',
    path: '/api/posts/:id/pieces',
    who: 'makePieces',
    summary: 'Make pieces of a post',
    status: 201,
  },
  'pieces.change': {
    method: 'PATCH',
    path: '/api/pieces/:id',
    who: 'makePieces',
    summary: 'Edit a piece by hand, or its time',
    ifMatch: 'required',
  },
  'pieces.rebuild': {
    method: 'POST',
    path: '/api/pieces/:id/versions',
    who: 'makePieces',
    summary: 'Build a piece again',
    ifMatch: 'required',
  },
  'pieces.restore': {
    method: 'POST',
    path: '/api/pieces/:id/restored',
    who: 'makePieces',
    summary: 'Bring an earlier version of a piece back',
    ifMatch: 'required',
  },
  'pieces.keep': {
    method: 'POST',
    path: '/api/pieces/:id/kept',
    who: 'makePieces',
    summary: 'Keep a piece as it is though its post moved on',
  },
  'pieces.remove': {
    method: 'DELETE',
    path: '/api/pieces/:id',
    who: 'makePieces',
    summary: 'Remove a piece that was not sent',
  },
  'pieces.approve': {
    method: 'POST',
    path: '/api/pieces/:id/approval',
    who: 'sendPieces',
    summary: 'Let a piece go out when it is due, or hold it',
  },
  'pieces.picture': {
    method: 'GET',
    path: '/api/pieces/:id/picture',
    who: 'enterNewsroom',
    summary: 'The card of a piece as PNG',
  },
  'rollout.approve': {
    method: 'POST',
    path: '/api/posts/:id/rollout/approval',
    who: 'sendPieces',
    summary: 'Let all pieces of a post go out when they are due, or hold them',
  },
  'rollout.spread': {
    method: 'POST',
    path: '/api/posts/:id/rollout/spread',
    who: 'sendPieces',
    summary: 'Move pieces that clash to free times',
  },
  'rollout.times': {
    method: 'PUT',
    path: '/api/posts/:id/rollout/times',
    who: 'makePieces',
    summary: 'Give several pieces of a post their times, all of them or none',
  },
  'rollout.use': {
    method: 'POST',
    path: '/api/posts/:id/rollout',
    who: 'makePieces',
    summary: 'Make the pieces of a pattern',
    status: 201,
  },
  'patterns.list': {
    method: 'GET',
    path: '/api/rollout-patterns',
    who: 'enterNewsroom',
    summary: 'The rollout patterns',
  },
  'patterns.add': {
    method: 'POST',
    path: '/api/rollout-patterns',
    who: 'sendPieces',
    summary: 'Keep a rollout pattern',
    status: 201,
  },
  'patterns.from': {
    method: 'POST',
    path: '/api/rollout-patterns/kept',
    who: 'sendPieces',
    summary: 'Keep the rollout of a post as a pattern',
    status: 201,
  },
  'patterns.change': {
    method: 'PATCH',
    path: '/api/rollout-patterns/:id',
    who: 'sendPieces',
    saves: 'pattern',
    summary: 'Change a rollout pattern',
  },
  'patterns.remove': {
    method: 'DELETE',
    path: '/api/rollout-patterns/:id',
    who: 'sendPieces',
    saves: 'pattern',
    summary: 'Remove a rollout pattern',
  },
  'sends.list': { method: 'GET', path: '/api/sends', who: 'enterNewsroom', summary: 'The send log' },
  'sends.see': {
    method: 'GET',
    path: '/api/sends/:id',
    who: 'enterNewsroom',
    summary: 'One entry of the send log with its attempts',
  },
  'sends.answer': {
    method: 'POST',
    path: '/api/sends/:id/answer',
    who: 'sendPieces',
    summary: 'Say whether a piece that may have been sent is there',
  },
  'sends.again': {
    method: 'POST',
    path: '/api/sends/:id/again',
    who: 'sendPieces',
    summary: 'Try a piece again that could not be sent',
  },
  'evergreens.see': {
    method: 'GET',
    path: '/api/evergreens',
    who: 'enterNewsroom',
    summary: 'Older posts worth passing on again, in a rotation',
  },
  'evergreens.plan': {
    method: 'POST',
    path: '/api/evergreens',
    who: 'sendPieces',
    summary: 'Make the pieces of a rotation',
    status: 201,
  },
  'planner.pieces': {
    method: 'GET',
    path: '/api/planner/pieces',
    who: 'enterNewsroom',
    summary: 'Pieces that go out in a span of days',
  },
} as const satisfies RoutesOf<OutletsRoutes>;
