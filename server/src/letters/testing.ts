import request from 'supertest';
import type { LetterView, SubscribersPage } from '@keyroster/contract';
import { LetterBox } from '../testing/letter-box.js';
import { Newsroom, eventually } from '../testing/newsroom.js';

export let room: Newsroom;
export let box: LetterBox;
/** A post that is out. */
export let postId: number;
export const KEY = /\/letter\/(?:leave|confirm)\/([0-9a-f-]{36})/;

/** A newsroom with a mail server that keeps what it is given; nobody is on the list when a test begins. */
export function useLetters(): void {
  beforeAll(async () => {
    box = await LetterBox.open();
    room = await Newsroom.make({ jobs: true, mailServer: box.url });
    postId = (await room.published('Ice on the pound')).id;
  });
  afterAll(async () => {
    await room.close();
    await box.close();
  });
  beforeEach(async () => {
    box.empty();
    box.refuses = () => null;
    await room.db('letters').delete();
    await room.db('subscribers').delete();
  });
}

export const asReader = (path: string, form: object | null = null) =>
  form === null ? request(room.url).get(path) : request(room.url).post(path).type('form').send(form);
export const subscribers = async (): Promise<SubscribersPage> =>
  (await room.call('chief', 'get', '/api/subscribers')).body;
export const put = async (...emails: string[]) => {
  await room
    .db('subscribers')
    .insert(emails.map((email) => ({ blog_id: 1, email, name: 'A reader', state: 'active', how: 'import' })));
};
export const draft = async (...postIds: number[]): Promise<LetterView> =>
  (await room.call('editor', 'post', '/api/letters', { postIds })).body;
export const send = async ({ id, version }: LetterView) =>
  (await room.as('editor')).post(`/api/letters/${id}/send`).set('If-Match', `"${version}"`).send({});
export const seen = async (id: number): Promise<LetterView> =>
  (await room.call('editor', 'get', `/api/letters/${id}`)).body;
export const out = (id: number) =>
  eventually(async () => {
    const letter = await seen(id);
    return letter.state === 'sent' && letter;
  });
