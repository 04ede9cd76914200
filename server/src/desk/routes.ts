import { may } from '@keyroster/core';
import { progressOf } from '../work/progress.js';
import { prepared, type Handlers } from '../http/handlers.js';
import { leftSignal } from '../http/left.js';
import { copyElsewhere } from '../posts/copy-elsewhere.js';
import { copyPost } from '../posts/copy.js';
import { visiblePost, visiblePostToChange } from '../posts/visible.js';
import { databaseNow } from '../db/now.js';
import { viewOf } from '../posts/view.js';
import { previewOf } from '../pages/pages.js';
import { storeImport, readFile } from './import.js';
import {
  addFormat,
  addTemplate,
  changeFormat,
  changeTemplate,
  listFormats,
  listTemplates,
  removeTemplate,
} from './formats.js';
import { factsOf, postOf } from '../posts/store.js';
import { checkContextFor } from './check-material.js';
import { seeMentions } from './mentions.js';
import { addNote, listNotes, resolveNote } from './notes.js';
import { exportPost } from './export.js';
import { readBody, storeBody } from './store-body.js';
import { changeTag, listTags } from './tags.js';
import { saveTrial, listTrials, removeTrial, usedTitles } from './titles.js';
import { notYours } from '../http/problem.js';

export const deskHandlers: Handlers = {
  'body.store': prepared(
    ({ body }) => readBody(body.body),
    async ({ trx, person, id, ifMatch, res }, read) => {
      const stored = await storeBody(trx, await visiblePostToChange(trx, person, id), person, read, ifMatch);
      res.set('ETag', `"${stored.version}"`);
      return stored;
    },
  ),
  'import.convert': prepared(
    async ({ services, person, file, query, res }) => {
      const progress = progressOf(services.db, person, query.task);
      const options = { onPlace: progress.place, signal: leftSignal(res) };
      return readFile(file, options).finally(progress.end);
    },
    ({ trx, person }, read) => storeImport(trx, person, read),
  ),
  'notes.list': async ({ trx, person, id }) => listNotes(trx, await visiblePost(trx, person, id)),
  'notes.see': async ({ trx, person, id }) => {
    await seeMentions(trx, person, (await visiblePost(trx, person, id)).id);
    return null;
  },
  'notes.add': async ({ trx, person, id, body }) =>
    addNote(trx, await visiblePostToChange(trx, person, id), person, body),
  'notes.change': ({ trx, person, id, body }) => resolveNote(trx, person, id, body.settled),
  'posts.copy': async ({ trx, person, id, body: { blogId, title, move = false } }) => {
    const now = await databaseNow(trx);
    if (blogId === undefined || blogId === person.blogId)
      return viewOf(trx, await copyPost(trx, person, await visiblePost(trx, person, id), title), person, now);
    const source = await visiblePostToChange(trx, person, id);
    const made = await copyElsewhere(trx, person, source, { blogId, title, move });
    return viewOf(trx, made.post, made.person, now);
  },
  'posts.out': async ({ trx, person, id, query, services, res }) => {
    const post = await visiblePost(trx, person, id);
    // What is suggested is for those who see how the text came about.
    if (query.suggestions && !may(person, 'history', factsOf(post))) throw notYours('Exporting suggestions');
    const { name, type, data } = await exportPost(trx, post, query, services.settings.publicUrl);
    // Told as an attachment, HTML of a post is never a page of this origin.
    res
      .set({
        'Content-Type': type,
        'Content-Disposition': `attachment; filename="${name}"`,
        'X-Content-Type-Options': 'nosniff',
      })
      .send(data);
    return undefined as never;
  },
  'checks.see': async ({ trx, person, id }) => {
    const post = postOf(await visiblePost(trx, person, id));
    return checkContextFor(trx, person, post);
  },
  'tags.list': ({ trx, person }) => listTags(trx, person),
  'tags.change': ({ id, body, ...change }) => changeTag(change, id, body),
  'formats.list': ({ trx, person }) => listFormats(trx, person.blogId),
  'formats.add': ({ trx, person, body }) => addFormat(trx, person, body),
  'formats.change': ({ id, body, ...change }) => changeFormat(change, id, body),
  'templates.list': ({ trx, person }) => listTemplates(trx, person.blogId),
  'templates.add': ({ trx, person, body }) => addTemplate(trx, person, body),
  'templates.change': ({ id, body, ...change }) => changeTemplate(change, id, body),
  'templates.remove': ({ id, ...change }) => removeTemplate(change, id),
  'trials.list': async ({ trx, person, id }) => listTrials(trx, (await visiblePost(trx, person, id)).id),
  'trials.keep': async ({ trx, person, id, body }) =>
    saveTrial(trx, await visiblePostToChange(trx, person, id), person, body.title),
  'trials.remove': ({ trx, person, id }) => removeTrial(trx, person, id),
  'titles.list': async ({ trx, person }) => {
    // A proofreader sees only the posts they are put on.
    if (person.role === 'proofreader') throw notYours('Reading all titles');
    return usedTitles(trx, person.blogId);
  },
  'preview.see': async ({ trx, person, id, services, res }) => {
    const post = await visiblePost(trx, person, id);
    res.set({
      'Content-Security-Policy':
        "default-src 'none'; img-src 'self'; media-src 'self'; style-src 'self'; font-src " +
        "'self'; frame-ancestors 'self'",
      'X-Frame-Options': 'SAMEORIGIN',
      'Cache-Control': 'no-store',
    });
    return previewOf(trx, services.settings, post);
  },
};
