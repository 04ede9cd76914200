import { signal } from '@angular/core';
import type { PieceChanges, PieceView, RolloutView } from '@keyroster/contract';
import { show, type Shown } from '../../testing/newsroom';
import { line, press, type } from '../../testing/hands';
import { PieceSheet } from './piece-sheet';
import { RolloutService } from './rollout.service';

const piece = (parts: object = {}): PieceView =>
  ({
    id: 1,
    postId: 7,
    outletId: 2,
    outlet: 'Towline',
    kind: 'short post',
    instruction: '',
    understood: '',
    style: 'plain',
    shape: 'landscape',
    drawn: false,
    subject: '',
    parts: ['Grease first.'],
    words: '',
    alt: '',
    tags: ['locks'],
    remarks: [],
    usedNow: [0],
    edited: false,
    timing: { anchor: 'release', minutes: 0 },
    dueLocal: '2026-12-01T08:00:00',
    sourceVersion: 3,
    moved: { what: 'nothing', sentence: '', title: null, used: [] },
    errors: [],
    counts: [],
    versions: [],
    pictures: [],
    send: null,
    version: 4,
    ...parts,
  }) as unknown as PieceView;

let sheet: Shown<PieceSheet>;
let sent: { body: PieceChanges; version: number }[];
let approved: boolean[];
let answered: Promise<boolean>;
const pieces = signal<PieceView[]>([]);
async function open(parts: object = {}, may: Partial<RolloutView> = {}): Promise<void> {
  [sent, approved] = [[], []];
  answered = Promise.resolve(true);
  pieces.set([piece(parts)]);
  const rollout = {
    view: signal({ mayMake: true, maySend: true, ...may }),
    pieces,
    outlet: () => ({
      limits: { length: { max: 40, unit: 'graphemes', linkCost: null }, tags: 3 },
      voice: '',
    }),
    busy: signal(false),
    waiting: signal(null),
    change: (p: PieceView, body: PieceChanges, version = () => p.version) => {
      sent.push({ body, version: version() });
      return answered;
    },
    approve: (_: PieceView, yes: boolean) => approved.push(yes),
  };
  sheet = await show(PieceSheet, {
    inputs: { piece: pieces()[0], blog: 'A blog' },
    providers: [{ provide: RolloutService, useValue: rollout }],
  });
}
/** The piece comes anew from the server. */
async function comes(parts: object): Promise<void> {
  pieces.set([piece(parts)]);
  sheet.fixture.componentRef.setInput('piece', pieces()[0]);
  await sheet.fixture.whenStable();
}
const text = async () => (await line(sheet.loader, 'Text')).getValue();

describe('a piece', () => {
  it('is drawn as its outlet shows it, while its words are typed', async () => {
    await open();
    await type(sheet.loader, 'Text', 'Grease first, then push at the far end.');
    expect(sheet.page.querySelector('.preview')!.textContent).toContain('then push at the far end.');
    expect(sheet.page.textContent).toContain('39 of 40 characters');
    await type(sheet.loader, 'Text', 'Grease first, then push at the very far end.');
    expect(sheet.page.textContent).toContain('44 of 40 characters');
  });

  it('saves what was changed of it, and nothing else', async () => {
    await open();
    await type(sheet.loader, 'Tags', ' locks, , spring ');
    await press(sheet.loader, 'Save');
    expect(sent).toEqual([{ body: { tags: ['locks', 'spring'] }, version: 4 }]);
  });

  it('goes on being typed when something beside its words changes', async () => {
    await open();
    await type(sheet.loader, 'Text', 'Mine.');
    await comes({ shape: 'square', version: 5 });
    expect(await text()).toBe('Mine.');
    await press(sheet.loader, 'Save');
    expect(sent).toEqual([{ body: { parts: ['Mine.'] }, version: 5 }]);
  });

  it('is not saved over words that somebody else gave it while one typed; those can be looked at', async () => {
    await open();
    await type(sheet.loader, 'Text', 'Mine.');
    await comes({ parts: ['Theirs.'], version: 5 });
    expect(await text()).toBe('Mine.');
    await press(sheet.loader, 'Save');
    // The server refuses what was typed upon an older version.
    expect(sent[0]!.version).toBe(4);
  });

  it('shows the words of whoever was quicker once typing is undone', async () => {
    await open();
    await type(sheet.loader, 'Text', 'Mine.');
    await comes({ parts: ['Theirs.'], version: 5 });
    await press(sheet.loader, 'Undo typing');
    expect(await text()).toBe('Theirs.');
    await type(sheet.loader, 'Text', 'Theirs, and mine.');
    await press(sheet.loader, 'Save');
    expect(sent).toEqual([{ body: { parts: ['Theirs, and mine.'] }, version: 5 }]);
  });

  it('goes on being typed while its words are on their way, and is saved again upon them', async () => {
    await open();
    let arrives: (yes: boolean) => void;
    answered = new Promise((done) => (arrives = done));
    await type(sheet.loader, 'Text', 'Mine.');
    await press(sheet.loader, 'Save');
    await type(sheet.loader, 'Text', 'Mine, and more.');
    pieces.set([piece({ parts: ['Mine.'], version: 5 })]);
    arrives!(true);
    await comes({ parts: ['Mine.'], version: 5 });
    expect(await text()).toBe('Mine, and more.');
    await press(sheet.loader, 'Save');
    expect(sent[1]).toEqual({ body: { parts: ['Mine, and more.'] }, version: 5 });
  });

  it('is approved once its words are saved and nothing holds it back', async () => {
    await open();
    await type(sheet.loader, 'Text', 'Mine.');
    await press(sheet.loader, 'Approve');
    expect(approved).toEqual([]);
    await press(sheet.loader, 'Undo typing');
    await press(sheet.loader, 'Approve');
    expect(approved).toEqual([true]);
  });

  it('that went out is changed no more, and leads to where it is', async () => {
    await open({ send: { id: 5, state: 'sent', url: 'https://towline.example/1', error: null } });
    expect(await (await line(sheet.loader, 'Text')).isDisabled()).toBe(true);
    expect(sheet.page.querySelector('a[href="https://towline.example/1"]')!.textContent).toContain(
      'See it at Towline',
    );
    await expect(press(sheet.loader, 'Remove')).rejects.toThrow();
  });

  it('says of a time that has passed that it goes at once', async () => {
    await open({ dueLocal: '2020-01-01T08:00:00' });
    expect(sheet.page.textContent).toContain('That has passed: approved, it goes out at once.');
  });
});
