import { signal } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { PostChanges, PostView } from '@keyroster/contract';
import { of } from 'rxjs';
import { post, work } from '../../testing/newsroom';
import { ApiError } from '../api/api';
import { Messages } from '../ui/messages.service';
import { LeadPictureService } from './lead-picture.service';
import { PostService } from '../posts/post.service';

const HEAVY = { media: 5, alt: 'A stern gland.' };
let changes: PostChanges[];
let told: { sentence: string; undo?: () => Promise<void> }[];
/** `chosen` is what the dialog is closed with. */
async function open(chosen: unknown, leadPicture: object | null = HEAVY, refusal?: Error) {
  [changes, told] = [[], []];
  return work(LeadPictureService, {
    providers: [
      {
        provide: PostService,
        useValue: {
          post: signal<PostView>(post({ leadPicture } as never)),
          change: (body: PostChanges) => {
            changes.push(body);
            return refusal ? Promise.reject(refusal) : Promise.resolve();
          },
        },
      },
      { provide: MatDialog, useValue: { open: () => ({ afterClosed: () => of(chosen) }) } },
      {
        provide: Messages,
        useValue: { done: (sentence: string, undo?: () => Promise<void>) => told.push({ sentence, undo }) },
      },
    ],
  });
}

describe('the lead picture', () => {
  it('is one out of the library, or none when the dialog is left', async () => {
    expect(await (await open([{ id: 9 }])).choose('Lead picture')).toEqual({ id: 9 });
  });

  it('is none when the dialog is left', async () => {
    expect(await (await open(undefined)).choose('Lead picture')).toBeUndefined();
  });

  it('is led by its lighter copy, with the words of the heavy one and a way back', async () => {
    await (await open({ id: 9 })).lighten(5);
    expect(changes).toEqual([{ leadPicture: { media: 9, alt: HEAVY.alt } }]);
    await told[0]!.undo!();
    expect(changes[1]).toEqual({ leadPicture: HEAVY });
  });

  it('stays where nothing lighter was made', async () => {
    await (await open(undefined)).lighten(5);
    expect([changes, told]).toEqual([[], []]);
  });

  it('says why where the newsroom refuses', async () => {
    await (await open({ id: 9 }, HEAVY, new ApiError(null, 'That post is not yours.'))).lighten(5);
    expect(told.map((t) => t.sentence)).toEqual(['That post is not yours.']);
  });
});
