import type {
  BodyStored,
  ImportedView,
  CheckContext,
  FormatChanges,
  FormatView,
  NewBody,
  NewFormat,
  NewNote,
  NewTemplate,
  NewTitleTrial,
  NoteChanges,
  NoteView,
  OutQuery,
  TagChanges,
  TagView,
  TemplateChanges,
  TemplateView,
  TitleTrialView,
  UsedTitles,
} from './types.js';
import type { NewCopy, PostView } from '../posts/types.js';
import type { TaskOf } from '../live/types.js';
import type { RoutesOf } from '../route.js';

/** What goes in and comes out of each route. */
export interface DeskRoutes {
  'body.store': { id: true; body: NewBody; ifMatch: 'required'; reply: BodyStored };
  'import.convert': { file: true; query: TaskOf; reply: ImportedView };
  'notes.list': { id: true; reply: NoteView[] };
  'notes.see': { id: true; body: object; reply: null };
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
}

/** Who may call what, and where. */
export const DESK_ROUTES = {
  'body.store': {
    method: 'PUT',
    path: '/api/posts/:id/body',
    who: 'enterNewsroom',
    summary: 'Store a post’s text',
    ifMatch: 'required',
  },
  'import.convert': {
    method: 'POST',
    path: '/api/bring-in',
    who: 'pitch',
    summary: 'Read a Markdown, HTML, Word or text file as a post',
    file: true,
  },
  'notes.list': {
    method: 'GET',
    path: '/api/posts/:id/notes',
    who: 'enterNewsroom',
    summary: 'Notes on a post',
  },
  'notes.see': {
    method: 'PUT',
    path: '/api/posts/:id/notes/seen',
    who: 'enterNewsroom',
    summary: 'Say that one has seen the notes that mention one',
    status: 204,
  },
  'notes.add': {
    method: 'POST',
    path: '/api/posts/:id/notes',
    who: 'enterNewsroom',
    summary: 'Leave a note, on a passage or the whole, or answer one',
    status: 201,
  },
  'notes.change': {
    method: 'PATCH',
    path: '/api/notes/:id',
    who: 'enterNewsroom',
    summary: 'Settle a note or open it again',
  },
  'preview.see': {
    method: 'GET',
    path: '/api/posts/:id/preview',
    who: 'enterNewsroom',
    summary: 'The post as readers will see it (HTML)',
  },
  'posts.copy': {
    method: 'POST',
    path: '/api/posts/:id/copies',
    who: 'pitch',
    summary: 'Copy a post, to write another on its build',
    status: 201,
  },
  'posts.out': {
    method: 'GET',
    path: '/api/posts/:id/out',
    who: 'enterNewsroom',
    summary: 'The post as Markdown with front matter, HTML, .docx or plain text',
  },
  'checks.see': {
    method: 'GET',
    path: '/api/posts/:id/checks',
    who: 'enterNewsroom',
    summary: 'What the checks of a post need beside the post',
  },
  'tags.list': {
    method: 'GET',
    path: '/api/tags',
    who: 'enterNewsroom',
    summary: 'Tags and how many posts have them',
  },
  'tags.change': {
    method: 'PATCH',
    path: '/api/tags/:id',
    who: 'manageTags',
    saves: 'tag',
    summary: 'Rename a tag, or merge it into another',
  },
  'formats.list': {
    method: 'GET',
    path: '/api/formats',
    who: 'enterNewsroom',
    summary: 'Formats of posts with their fields and starter text',
  },
  'formats.add': {
    method: 'POST',
    path: '/api/formats',
    who: 'manageBlog',
    summary: 'Add a format',
    status: 201,
  },
  'formats.change': {
    method: 'PATCH',
    path: '/api/formats/:id',
    who: 'manageBlog',
    saves: 'format',
    summary: 'Change or retire a format',
  },
  'templates.list': {
    method: 'GET',
    path: '/api/templates',
    who: 'enterNewsroom',
    summary: 'Templates of posts',
  },
  'templates.add': {
    method: 'POST',
    path: '/api/templates',
    who: 'manageTags',
    summary: 'Keep a text as a template',
    status: 201,
  },
  'templates.change': {
    method: 'PATCH',
    path: '/api/templates/:id',
    who: 'manageTags',
    saves: 'template',
    summary: 'Change a template',
  },
  'templates.remove': {
    method: 'DELETE',
    path: '/api/templates/:id',
    who: 'manageTags',
    saves: 'template',
    summary: 'Remove a template',
    status: 204,
  },
  'trials.list': {
    method: 'GET',
    path: '/api/posts/:id/title-trials',
    who: 'enterNewsroom',
    summary: 'Title trials of a post',
  },
  'trials.keep': {
    method: 'POST',
    path: '/api/posts/:id/title-trials',
    who: 'enterNewsroom',
    summary: 'Keep a title trial',
    status: 201,
  },
  'trials.remove': {
    method: 'DELETE',
    path: '/api/title-trials/:id',
    who: 'enterNewsroom',
    summary: 'Remove a title trial',
    status: 204,
  },
  'titles.list': {
    method: 'GET',
    path: '/api/titles',
    who: 'enterNewsroom',
    summary: 'Titles already used, newest first',
  },
} as const satisfies RoutesOf<DeskRoutes>;
