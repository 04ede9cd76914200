/** What programs beside the server (demo, measurements) may use of it. */
export { connect, type Db, type Trx } from './db/connect.js';
export { migrate } from './db/migrate.js';
export { addPerson, setUp } from './accounts/people.js';
export { findPerson, type CurrentPerson } from './accounts/who.js';
export { readMarkdown } from './desk/bring-in.js';
export { storeBody } from './desk/store-body.js';
export { addNote } from './desk/notes.js';
export { keepPicture } from './media/keep-picture.js';
export { changePost } from './posts/change.js';
export { movePost } from './posts/move.js';
export { pitch } from './posts/pitch.js';
export { lockPost } from './posts/store.js';
export { settingsFrom, type Settings } from './settings.js';
export { startServer, type Running } from './start.js';
export { planRelease } from './jobs/queue.js';
export { keepVersion } from './posts/write-post.js';
