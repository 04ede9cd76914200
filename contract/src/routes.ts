import type { RoleAction } from '@keyroster/core';
import type { BlogView, CategoryView, DemoPerson, NewPerson, PersonChanges, PersonView, SessionView, SetUp, SignIn } from './accounts.js';
import type {
  BodyStored, BroughtInView, CheckContext, Crop, FileView, FormatChanges, FormatView, LighterQuery, MediaChanges, MediaPage, MediaQuery, MediaView, MediaWhole, NewBody, NewFormat, NewNote, NewTemplate, NewTitleTrial,
  NoteChanges, NoteView, OutQuery, Replaced, Replacement, TagChanges, TagView, TemplateChanges, TemplateView, TitleTrialView, UsedTitles,
} from './desk.js';
import type {
  AbsenceChanges, AbsenceView, CalendarMade, CalendarView, CardsQuery, FindQuery, Found, NewAbsence, NewCalendar, NewSlot, PitchAlike, PitchesKept, PitchList, PlannerQuery, RhythmView,
  RunListQuery, RunwayView, SlotAnswer, SlotQuestion, Sweep, Swept, TodayView,
} from './planner.js';
import type { PackedCards, PlannerAnswer } from './planner-answer.js';
import type { MoveDone, NewCopy, NewMove, NewPost, PostChanges, PostPage, PostQuery, PostView, ReleaseLogEntry } from './posts.js';
import type {
  ArchiveCounts, ArchiveIds, ArchiveNames, ArchiveQuery, ArchiveRows, BatchItemView, BatchItemsQuery, BatchPreview, BatchView, BinAsked, BinDone, ItemChanges, KeptFilter, NewBatch, NewKeptFilter, PickQuery, PickedRows,
  TakeBackAsked,
} from './archive.js';
import type {
  Approval, EvergreenPlan, EvergreenQuery, EvergreenView, NewOutlet, NewPattern, NewPieces, OutletChanges, OutletView, PatternFrom, PatternUse, PatternView, PictureQuery, PieceChanges, PieceRestore, PiecesMade, PlannerPiece, PlannerPiecesQuery,
  Rebuild, RolloutView, Said, SendAnswer, SendingChange, SendingView, SendsQuery, SendView, SendWhole,
} from './outlets.js';
import type { BlogChanges, CategoryChanges, NewCategory } from './site.js';

/** What goes in and comes out of each route. `file` routes take multipart form data with one part `file`. */
export interface RouteTypes {
  'session.see': { reply: SessionView };
  'session.open': { body: SignIn; reply: SessionView };
  'session.close': { reply: null };
  'session.closeAll': { reply: null };
  'setup.make': { body: SetUp; reply: SessionView };
  'demo.people': { reply: DemoPerson[] };
  'people.list': { reply: PersonView[] };
  'people.add': { body: NewPerson; reply: PersonView };
  'people.change': { id: true; body: PersonChanges; reply: PersonView };
  'posts.list': { query: PostQuery; reply: PostPage };
  'posts.pitch': { body: NewPost; reply: PostView };
  'posts.see': { id: true; reply: PostView };
  'posts.change': { id: true; body: PostChanges; ifMatch: 'required'; reply: MoveDone };
  'posts.move': { id: true; body: NewMove; ifMatch: 'optional'; reply: MoveDone };
  'posts.open': { id: true; body: object; reply: null };
  'archive.rows': { query: ArchiveQuery; reply: ArchiveRows };
  'archive.ids': { query: ArchiveQuery; reply: ArchiveIds };
  'archive.counts': { query: ArchiveQuery; reply: ArchiveCounts };
  'archive.pick': { query: PickQuery; reply: PickedRows };
  'archive.names': { reply: ArchiveNames };
  'archive.csv': { query: ArchiveQuery; reply: never };
  'filters.list': { reply: KeptFilter[] };
  'filters.add': { body: NewKeptFilter; reply: KeptFilter[] };
  'filters.remove': { id: true; reply: KeptFilter[] };
  'batches.list': { reply: BatchView[] };
  'batches.preview': { body: NewBatch; reply: BatchPreview };
  'batches.see': { id: true; reply: BatchPreview };
  'batches.items': { id: true; query: BatchItemsQuery; reply: BatchItemView[] };
  'batches.choose': { id: true; body: ItemChanges; reply: BatchPreview };
  'batches.apply': { id: true; body: object; reply: BatchView };
  'batches.takeBack': { id: true; body: TakeBackAsked; reply: BatchPreview };
  'bin.restore': { body: BinAsked; reply: BinDone };
  'bin.weigh': { query: BinAsked; reply: BinDone };
  'bin.erase': { body: BinAsked; reply: BinDone };
  'releaseLog.list': { reply: ReleaseLogEntry[] };
  'body.store': { id: true; body: NewBody; ifMatch: 'required'; reply: BodyStored };
  'bringIn.convert': { file: true; reply: BroughtInView };
  'notes.list': { id: true; reply: NoteView[] };
  'notes.add': { id: true; body: NewNote; reply: NoteView };
  'notes.change': { id: true; body: NoteChanges; reply: NoteView };
  'preview.see': { id: true; reply: string };
  'posts.copy': { id: true; body: NewCopy; reply: PostView };
  'posts.out': { id: true; query: OutQuery; reply: never };
  'checks.see': { id: true; reply: CheckContext };
  'tags.list': { reply: TagView[] };
  'tags.change': { id: true; body: TagChanges; reply: TagView[] };
  'formats.list': { reply: FormatView[] };
  'formats.add': { body: NewFormat; reply: FormatView };
  'formats.change': { id: true; body: FormatChanges; reply: FormatView };
  'templates.list': { reply: TemplateView[] };
  'templates.add': { body: NewTemplate; reply: TemplateView };
  'templates.change': { id: true; body: TemplateChanges; reply: TemplateView };
  'templates.remove': { id: true; reply: null };
  'trials.list': { id: true; reply: TitleTrialView[] };
  'trials.keep': { id: true; body: NewTitleTrial; reply: TitleTrialView[] };
  'trials.remove': { id: true; reply: null };
  'titles.list': { reply: UsedTitles };
  'media.add': { file: true; reply: MediaView };
  'media.list': { query: MediaQuery; reply: MediaPage };
  'media.see': { id: true; reply: MediaWhole };
  'media.change': { id: true; body: MediaChanges; reply: MediaView };
  'media.weigh': { id: true; query: LighterQuery; reply: never };
  'media.lighten': { id: true; body: LighterQuery; reply: MediaView };
  'media.crop': { id: true; body: Crop; reply: MediaView };
  'media.replace': { id: true; body: Replacement; reply: Replaced };
  'files.add': { file: true; reply: FileView };
  'letter.list': { reply: never };
  'planner.see': { query: PlannerQuery; reply: PlannerAnswer };
  'planner.cards': { query: CardsQuery; reply: PackedCards };
  'planner.sweep': { body: Sweep; reply: Swept };
  'planner.runList': { query: RunListQuery; reply: never };
  'pitches.keep': { body: PitchList; reply: PitchesKept };
  'pitches.import': { file: true; reply: PitchesKept };
  'pitches.alike': { reply: PitchAlike[] };
  'runway.see': { reply: RunwayView };
  'rhythm.see': { reply: RhythmView };
  'absences.list': { reply: AbsenceView[] };
  'absences.add': { body: NewAbsence; reply: AbsenceView };
  'absences.change': { id: true; body: AbsenceChanges; reply: AbsenceView };
  'absences.remove': { id: true; reply: null };
  'calendars.list': { reply: CalendarView[] };
  'calendars.make': { body: NewCalendar; reply: CalendarMade };
  'calendars.revoke': { id: true; reply: null };
  'today.see': { reply: TodayView };
  'find.all': { query: FindQuery; reply: Found };
  'slots.add': { body: NewSlot; reply: BlogView };
  'slots.change': { id: true; body: NewSlot; reply: BlogView };
  'slots.weigh': { body: SlotQuestion; reply: SlotAnswer };
  'slots.remove': { id: true; reply: BlogView };
  'blog.change': { body: BlogChanges; reply: BlogView };
  'categories.add': { body: NewCategory; reply: CategoryView };
  'categories.change': { id: true; body: CategoryChanges; reply: CategoryView };
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
  'rollout.approve': { id: true; body: Approval; reply: RolloutView };
  'rollout.spread': { id: true; body: object; reply: RolloutView };
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
  'events.stream': { reply: never };
  'openapi.see': { reply: unknown };
}
export type RouteName = keyof RouteTypes;

export interface RouteRow {
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  path: string;
  /** Who may call it at all; finer permission is the use case's. */
  who: 'anyone' | 'signed in' | RoleAction;
  summary: string;
  /** Success status when it is not 200. */
  status?: 201 | 204;
  ifMatch?: 'required' | 'optional';
  file?: true;
}

/** Every route under /api: one table that server, client, description and tests read. */
export const ROUTES: { readonly [K in RouteName]: RouteRow } = {
  'session.see': { method: 'GET', path: '/api/session', who: 'anyone', summary: 'Who is signed in' },
  'session.open': { method: 'POST', path: '/api/session', who: 'anyone', summary: 'Sign in' },
  'session.close': { method: 'DELETE', path: '/api/session', who: 'signed in', summary: 'Sign out here', status: 204 },
  'session.closeAll': { method: 'DELETE', path: '/api/sessions', who: 'signed in', summary: 'Sign out everywhere', status: 204 },
  'setup.make': { method: 'POST', path: '/api/setup', who: 'anyone', summary: 'Make the blog and the managing editor’s account, once', status: 201 },
  'demo.people': { method: 'GET', path: '/api/demo/people', who: 'anyone', summary: 'The demo people and their passwords (with the demo only)' },
  'people.list': { method: 'GET', path: '/api/people', who: 'enterNewsroom', summary: 'The people of the newsroom' },
  'people.add': { method: 'POST', path: '/api/people', who: 'managePeople', summary: 'Add a person', status: 201 },
  'people.change': { method: 'PATCH', path: '/api/people/:id', who: 'managePeople', summary: 'Change a person' },
  'posts.list': { method: 'GET', path: '/api/posts', who: 'enterNewsroom', summary: 'Posts, filtered and sorted, a page at a time' },
  'posts.pitch': { method: 'POST', path: '/api/posts', who: 'pitch', summary: 'Put a pitch in the tray', status: 201 },
  'posts.see': { method: 'GET', path: '/api/posts/:id', who: 'enterNewsroom', summary: 'One post' },
  'posts.change': { method: 'PATCH', path: '/api/posts/:id', who: 'enterNewsroom', summary: 'Change fields of a post', ifMatch: 'required' },
  'posts.move': { method: 'POST', path: '/api/posts/:id/moves', who: 'enterNewsroom', summary: 'Move a post to a stage', ifMatch: 'optional' },
  'posts.open': { method: 'PUT', path: '/api/posts/:id/open', who: 'enterNewsroom', summary: 'Say that one has the post open', status: 204 },
  'archive.rows': { method: 'GET', path: '/api/archive', who: 'enterNewsroom', summary: 'The first posts that match a filter line' },
  'archive.ids': { method: 'GET', path: '/api/archive/ids', who: 'enterNewsroom', summary: 'The numbers of all posts that match, in order' },
  'archive.counts': { method: 'GET', path: '/api/archive/counts', who: 'enterNewsroom', summary: 'How many posts match, by stage' },
  'archive.pick': { method: 'GET', path: '/api/archive/picked', who: 'enterNewsroom', summary: 'Rows of the table by number, with the places where words were found' },
  'archive.names': { method: 'GET', path: '/api/archive/names', who: 'enterNewsroom', summary: 'Names that filter lines and batches use' },
  'archive.csv': { method: 'GET', path: '/api/archive.csv', who: 'enterNewsroom', summary: 'The table as CSV' },
  'filters.list': { method: 'GET', path: '/api/filters', who: 'enterNewsroom', summary: 'Filters kept under a name: one’s own and shared ones' },
  'filters.add': { method: 'POST', path: '/api/filters', who: 'enterNewsroom', summary: 'Keep a filter', status: 201 },
  'filters.remove': { method: 'DELETE', path: '/api/filters/:id', who: 'enterNewsroom', summary: 'Let a kept filter go' },
  'batches.list': { method: 'GET', path: '/api/batches', who: 'changeMany', summary: 'The last 100 batches' },
  'batches.preview': { method: 'POST', path: '/api/batches', who: 'changeMany', summary: 'Preview a change to many posts; nothing is written', status: 201 },
  'batches.see': { method: 'GET', path: '/api/batches/:id', who: 'changeMany', summary: 'One batch and how far it is' },
  'batches.items': { method: 'GET', path: '/api/batches/:id/items', who: 'changeMany', summary: 'What a batch does, post by post' },
  'batches.choose': { method: 'PATCH', path: '/api/batches/:id', who: 'changeMany', summary: 'Leave posts out of a previewed batch, or take them in again' },
  'batches.apply': { method: 'POST', path: '/api/batches/:id/apply', who: 'changeMany', summary: 'Apply a previewed batch, all of it or nothing', status: 201 },
  'batches.takeBack': { method: 'POST', path: '/api/batches/:id/back', who: 'changeMany', summary: 'Preview what taking a batch back does', status: 201 },
  'bin.restore': { method: 'POST', path: '/api/bin/restored', who: 'changeMany', summary: 'Take posts out of the bin, as drafts' },
  'bin.weigh': { method: 'GET', path: '/api/bin/erasing', who: 'manageBlog', summary: 'What erasing posts for good takes along, in a sentence' },
  'bin.erase': { method: 'POST', path: '/api/bin/erased', who: 'manageBlog', summary: 'Erase binned posts for good' },
  'releaseLog.list': { method: 'GET', path: '/api/release-log', who: 'seeReleaseLog', summary: 'The last 200 releases, planned against actual' },
  'body.store': { method: 'PUT', path: '/api/posts/:id/body', who: 'enterNewsroom', summary: 'Store a post’s text', ifMatch: 'required' },
  'bringIn.convert': { method: 'POST', path: '/api/bring-in', who: 'pitch', summary: 'Read a Markdown, HTML, Word or text file as a post', file: true },
  'notes.list': { method: 'GET', path: '/api/posts/:id/notes', who: 'enterNewsroom', summary: 'Notes on a post' },
  'notes.add': { method: 'POST', path: '/api/posts/:id/notes', who: 'enterNewsroom', summary: 'Leave a note, on a passage or the whole, or answer one', status: 201 },
  'notes.change': { method: 'PATCH', path: '/api/notes/:id', who: 'enterNewsroom', summary: 'Settle a note or open it again' },
  'preview.see': { method: 'GET', path: '/api/posts/:id/preview', who: 'enterNewsroom', summary: 'The post as readers will see it (HTML)' },
  'posts.copy': { method: 'POST', path: '/api/posts/:id/copies', who: 'pitch', summary: 'Copy a post, to write another on its build', status: 201 },
  'posts.out': { method: 'GET', path: '/api/posts/:id/out', who: 'enterNewsroom', summary: 'The post as Markdown with front matter, HTML, .docx or plain text' },
  'checks.see': { method: 'GET', path: '/api/posts/:id/checks', who: 'enterNewsroom', summary: 'What the checks of a post need beside the post' },
  'tags.list': { method: 'GET', path: '/api/tags', who: 'enterNewsroom', summary: 'Tags and how many posts have them' },
  'tags.change': { method: 'PATCH', path: '/api/tags/:id', who: 'manageTags', summary: 'Rename a tag, or merge it into another' },
  'formats.list': { method: 'GET', path: '/api/formats', who: 'enterNewsroom', summary: 'Formats of posts with their fields and starter text' },
  'formats.add': { method: 'POST', path: '/api/formats', who: 'manageBlog', summary: 'Add a format', status: 201 },
  'formats.change': { method: 'PATCH', path: '/api/formats/:id', who: 'manageBlog', summary: 'Change or retire a format' },
  'templates.list': { method: 'GET', path: '/api/templates', who: 'enterNewsroom', summary: 'Templates of posts' },
  'templates.add': { method: 'POST', path: '/api/templates', who: 'manageTags', summary: 'Keep a text as a template', status: 201 },
  'templates.change': { method: 'PATCH', path: '/api/templates/:id', who: 'manageTags', summary: 'Change a template' },
  'templates.remove': { method: 'DELETE', path: '/api/templates/:id', who: 'manageTags', summary: 'Remove a template', status: 204 },
  'trials.list': { method: 'GET', path: '/api/posts/:id/title-trials', who: 'enterNewsroom', summary: 'Title trials of a post' },
  'trials.keep': { method: 'POST', path: '/api/posts/:id/title-trials', who: 'enterNewsroom', summary: 'Keep a title trial', status: 201 },
  'trials.remove': { method: 'DELETE', path: '/api/title-trials/:id', who: 'enterNewsroom', summary: 'Remove a title trial', status: 204 },
  'titles.list': { method: 'GET', path: '/api/titles', who: 'enterNewsroom', summary: 'Titles already used, newest first' },
  'media.add': { method: 'POST', path: '/api/media', who: 'addPictures', summary: 'Keep a picture', status: 201, file: true },
  'media.list': { method: 'GET', path: '/api/media', who: 'enterNewsroom', summary: 'The library of pictures, a page at a time' },
  'media.see': { method: 'GET', path: '/api/media/:id', who: 'enterNewsroom', summary: 'One picture and where it is used' },
  'media.change': { method: 'PATCH', path: '/api/media/:id', who: 'addPictures', summary: 'Describe a picture, set its focus, bin it or take it back' },
  'media.weigh': { method: 'GET', path: '/api/media/:id/lighter', who: 'addPictures', summary: 'The picture made lighter, to look at; nothing is kept' },
  'media.lighten': { method: 'POST', path: '/api/media/:id/lighter', who: 'addPictures', summary: 'Keep a lighter picture beside the heavy one', status: 201 },
  'media.crop': { method: 'POST', path: '/api/media/:id/crops', who: 'addPictures', summary: 'Keep a part of a picture as a picture', status: 201 },
  'media.replace': { method: 'POST', path: '/api/media/:id/replacement', who: 'manageTags', summary: 'Put another picture in its place everywhere' },
  'files.add': { method: 'POST', path: '/api/files', who: 'addPictures', summary: 'Keep a video (MP4, WebM) or a captions file (WebVTT)', status: 201, file: true },
  'letter.list': { method: 'GET', path: '/api/letter.csv', who: 'manageBlog', summary: 'Who signed up for the letter, as CSV (RFC 4180)' },
  'planner.see': { method: 'GET', path: '/api/planner', who: 'enterNewsroom', summary: 'Weeks with their posts and slots, and the pitch tray' },
  'planner.cards': { method: 'GET', path: '/api/planner/cards', who: 'enterNewsroom', summary: 'A few posts as the planner draws them' },
  'planner.sweep': { method: 'POST', path: '/api/planner/sweep', who: 'enterNewsroom', summary: 'Sweep late posts back to the tray, all or none' },
  'planner.runList': { method: 'GET', path: '/api/planner/run-list.csv', who: 'enterNewsroom', summary: 'The run list as CSV (RFC 4180)' },
  'pitches.keep': { method: 'POST', path: '/api/pitches', who: 'pitch', summary: 'Put several pitches in the tray, all or none', status: 201 },
  'pitches.import': { method: 'POST', path: '/api/pitches/import', who: 'pitch', summary: 'Put the rows of a CSV file in the tray, all or none', status: 201, file: true },
  'pitches.alike': { method: 'GET', path: '/api/pitches/alike', who: 'enterNewsroom', summary: 'Pitches that resemble an earlier post or pitch' },
  'runway.see': { method: 'GET', path: '/api/runway', who: 'enterNewsroom', summary: 'How far the calendar is covered' },
  'rhythm.see': { method: 'GET', path: '/api/rhythm', who: 'enterNewsroom', summary: 'Releases of the last and next 13 weeks against the wanted rhythm' },
  'absences.list': { method: 'GET', path: '/api/absences', who: 'enterNewsroom', summary: 'Absences that are not over' },
  'absences.add': { method: 'POST', path: '/api/absences', who: 'enterNewsroom', summary: 'Enter an absence: one’s own, or anybody’s for the managing editor', status: 201 },
  'absences.change': { method: 'PATCH', path: '/api/absences/:id', who: 'enterNewsroom', summary: 'Change an absence' },
  'absences.remove': { method: 'DELETE', path: '/api/absences/:id', who: 'enterNewsroom', summary: 'Remove an absence', status: 204 },
  'calendars.list': { method: 'GET', path: '/api/calendars', who: 'enterNewsroom', summary: 'Subscription addresses: one’s own, and everybody’s for the managing editor' },
  'calendars.make': { method: 'POST', path: '/api/calendars', who: 'enterNewsroom', summary: 'Make a subscription address (iCalendar); the one before it ends', status: 201 },
  'calendars.revoke': { method: 'DELETE', path: '/api/calendars/:id', who: 'enterNewsroom', summary: 'End a subscription address', status: 204 },
  'today.see': { method: 'GET', path: '/api/today', who: 'enterNewsroom', summary: 'What needs the person who asks' },
  'find.all': { method: 'GET', path: '/api/find', who: 'enterNewsroom', summary: 'Find posts and people by words' },
  'slots.add': { method: 'POST', path: '/api/slots', who: 'manageBlog', summary: 'Add a standing slot', status: 201 },
  'slots.change': { method: 'PATCH', path: '/api/slots/:id', who: 'manageBlog', summary: 'Change a standing slot; posts keep their run times' },
  'slots.weigh': { method: 'POST', path: '/api/slots/weigh', who: 'manageBlog', summary: 'What a change of standing slots would do; changes nothing' },
  'slots.remove': { method: 'DELETE', path: '/api/slots/:id', who: 'manageBlog', summary: 'Remove a standing slot; posts keep their run times' },
  'blog.change': { method: 'PATCH', path: '/api/blog', who: 'manageBlog', summary: 'Change the blog’s title, tagline or first day of the week' },
  'categories.add': { method: 'POST', path: '/api/categories', who: 'manageBlog', summary: 'Add a category', status: 201 },
  'categories.change': { method: 'PATCH', path: '/api/categories/:id', who: 'manageBlog', summary: 'Rename or recolour a category, or merge it into another' },
  'outlets.list': { method: 'GET', path: '/api/outlets', who: 'enterNewsroom', summary: 'The outlets' },
  'outlets.add': { method: 'POST', path: '/api/outlets', who: 'manageOutlets', summary: 'Add an outlet', status: 201 },
  'outlets.change': { method: 'PATCH', path: '/api/outlets/:id', who: 'sendPieces', summary: 'Change, pause or close an outlet' },
  'outlets.try': { method: 'POST', path: '/api/outlets/:id/trials', who: 'manageOutlets', summary: 'Ask an outlet whether it would take a piece, without sending one' },
  'sending.see': { method: 'GET', path: '/api/sending', who: 'enterNewsroom', summary: 'Whether sending is stopped' },
  'sending.change': { method: 'PUT', path: '/api/sending', who: 'sendPieces', summary: 'Stop all sending, or let it go on' },
  'rollout.see': { method: 'GET', path: '/api/posts/:id/rollout', who: 'enterNewsroom', summary: 'The pieces of a post, and when they go out' },
  'pieces.make': { method: 'POST', path: '/api/posts/:id/pieces', who: 'makePieces', summary: 'Make pieces of a post', status: 201 },
  'pieces.change': { method: 'PATCH', path: '/api/pieces/:id', who: 'makePieces', summary: 'Edit a piece by hand, or its time', ifMatch: 'required' },
  'pieces.rebuild': { method: 'POST', path: '/api/pieces/:id/versions', who: 'makePieces', summary: 'Build a piece again', ifMatch: 'required' },
  'pieces.restore': { method: 'POST', path: '/api/pieces/:id/restored', who: 'makePieces', summary: 'Bring an earlier version of a piece back', ifMatch: 'required' },
  'pieces.keep': { method: 'POST', path: '/api/pieces/:id/kept', who: 'makePieces', summary: 'Keep a piece as it is though its post moved on' },
  'pieces.remove': { method: 'DELETE', path: '/api/pieces/:id', who: 'makePieces', summary: 'Remove a piece that was not sent' },
  'pieces.approve': { method: 'POST', path: '/api/pieces/:id/approval', who: 'sendPieces', summary: 'Let a piece go out when it is due, or hold it' },
  'pieces.picture': { method: 'GET', path: '/api/pieces/:id/picture', who: 'enterNewsroom', summary: 'The card of a piece as PNG' },
  'rollout.approve': { method: 'POST', path: '/api/posts/:id/rollout/approval', who: 'sendPieces', summary: 'Let all pieces of a post go out when they are due, or hold them' },
  'rollout.spread': { method: 'POST', path: '/api/posts/:id/rollout/spread', who: 'sendPieces', summary: 'Move pieces that clash to free times' },
  'rollout.use': { method: 'POST', path: '/api/posts/:id/rollout', who: 'makePieces', summary: 'Make the pieces of a pattern', status: 201 },
  'patterns.list': { method: 'GET', path: '/api/rollout-patterns', who: 'enterNewsroom', summary: 'The rollout patterns' },
  'patterns.add': { method: 'POST', path: '/api/rollout-patterns', who: 'sendPieces', summary: 'Keep a rollout pattern', status: 201 },
  'patterns.from': { method: 'POST', path: '/api/rollout-patterns/kept', who: 'sendPieces', summary: 'Keep the rollout of a post as a pattern', status: 201 },
  'patterns.change': { method: 'PATCH', path: '/api/rollout-patterns/:id', who: 'sendPieces', summary: 'Change a rollout pattern' },
  'patterns.remove': { method: 'DELETE', path: '/api/rollout-patterns/:id', who: 'sendPieces', summary: 'Remove a rollout pattern' },
  'sends.list': { method: 'GET', path: '/api/sends', who: 'enterNewsroom', summary: 'The send log' },
  'sends.see': { method: 'GET', path: '/api/sends/:id', who: 'enterNewsroom', summary: 'One entry of the send log with its attempts' },
  'sends.answer': { method: 'POST', path: '/api/sends/:id/answer', who: 'sendPieces', summary: 'Say whether a piece that may have been sent is there' },
  'sends.again': { method: 'POST', path: '/api/sends/:id/again', who: 'sendPieces', summary: 'Try a piece again that could not be sent' },
  'evergreens.see': { method: 'GET', path: '/api/evergreens', who: 'enterNewsroom', summary: 'Older posts worth passing on again, in a rotation' },
  'evergreens.plan': { method: 'POST', path: '/api/evergreens', who: 'sendPieces', summary: 'Make the pieces of a rotation', status: 201 },
  'planner.pieces': { method: 'GET', path: '/api/planner/pieces', who: 'enterNewsroom', summary: 'Pieces that go out in a span of days' },
  'events.stream': { method: 'GET', path: '/api/events', who: 'enterNewsroom', summary: 'Server-sent events of what changed' },
  'openapi.see': { method: 'GET', path: '/api/openapi.json', who: 'anyone', summary: 'This description' },
};

type Part<K extends RouteName, P extends string> = RouteTypes[K] extends Record<P, infer T> ? T : undefined;
export type BodyOf<K extends RouteName> = Part<K, 'body'>;
export type QueryOf<K extends RouteName> = Part<K, 'query'>;
export type ReplyOf<K extends RouteName> = RouteTypes[K]['reply'];
export type HasId<K extends RouteName> = RouteTypes[K] extends { id: true } ? true : false;
