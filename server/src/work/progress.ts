import type { TaskView } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Db, Queryable } from '../db/connect.js';
import { log } from '../log.js';

/** What is told is written so often at most. */
const PAUSE_MS = 400;
/** What a process left behind is forgotten after so long. */
const FORGOTTEN = '1 day';

/** Says how far work is that somebody waits for, in whatever process they ask. */
export interface Progress {
  place: (place: number) => void;
  done: (done: number, total: number) => void;
  end: () => Promise<void>;
}

const NONE: Progress = { place: () => undefined, done: () => undefined, end: () => Promise.resolve() };

/** Progress of work under a key that its sender made; without a key nothing is said. */
export function progressOf(db: Db, person: Pick<CurrentPerson, 'id'>, key: string | undefined): Progress {
  if (key === undefined) return NONE;
  const now = { place: 0, done: 0, total: 0 };
  let writing: Promise<unknown> = Promise.resolve();
  let last = 0;
  const write = (always = false) => {
    if (!always && Date.now() - last < PAUSE_MS) return;
    last = Date.now();
    writing = writing
      .then(() =>
        db('running_tasks')
          .insert({ key, person_id: person.id, ...now, at: db.fn.now() })
          .onConflict(['person_id', 'key'])
          .merge(),
      )
      .catch((error: unknown) => log.warn({ err: error }, 'progress'));
  };
  return {
    place: (place) => {
      now.place = place;
      write(true);
    },
    done: (done, total) => {
      [now.done, now.total] = [done, total];
      write();
    },
    end: async () => {
      await writing;
      await db('running_tasks').where({ key, person_id: person.id }).delete();
    },
  };
}

/** How far one's own work is; null where none runs under the key. */
export const seeTask = async (
  db: Queryable,
  { id }: Pick<CurrentPerson, 'id'>,
  key: string,
): Promise<{ task: TaskView | null }> => ({
  task:
    (await db('running_tasks')
      .where({ key, person_id: id })
      .first<TaskView | undefined>('place', 'done', 'total')) ?? null,
});

/** Forgets what processes that died left. */
export async function forgetTasks(db: Db): Promise<void> {
  for (const table of ['running_tasks', 'subscriber_imports'])
    await db(table).whereRaw(`at < now() - interval '${FORGOTTEN}'`).delete();
}
