import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import type { HarnessLoader } from '@angular/cdk/testing';
import { provideHttpClient, withInterceptors } from '@angular/common/http';
import {
  HttpTestingController,
  provideHttpClientTesting,
  type TestRequest,
} from '@angular/common/http/testing';
import { Component, signal, type EnvironmentProviders, type Provider, type Type } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import { MatIconRegistry } from '@angular/material/icon';
import { FakeMatIconRegistry } from '@angular/material/icon/testing';
import { provideRouter } from '@angular/router';
import {
  PACKED_CARD,
  type LiveEvent,
  type PackedCard,
  type PackedCards,
  type PackedValues,
  type PersonView,
  type PlannerAnswer,
  type PlannerCard,
  type PostView,
  type SessionView,
} from '@keyroster/contract';
import type { Role } from '@keyroster/core';
import { NEVER, Subject } from 'rxjs';
import { SessionService } from '../app/accounts/session.service';
import { Live } from '../app/api/live';
import { problemInterceptor } from '../app/api/problem.interceptor';
import { WALL_CALENDAR } from '../app/ui/fields/wall-calendar';

/** A Thursday in winter, when the clocks of London show universal time. */
export const NOW = '2026-11-26T10:00:00Z';

/** Events that the tests send instead of the server. */
class QuietLive {
  readonly events = new Subject<LiveEvent>();
  readonly connected = signal(true);
  open(): void {}
  close(): void {}
  all = () => this.events;
  whenever(kinds: readonly string[], then: () => void): void {
    this.events.subscribe((e) => kinds.includes(e.kind) && then());
  }
  gathered(kinds: readonly string[], then: (events: LiveEvent[]) => void): void {
    this.events.subscribe((e) => kinds.includes(e.kind) && then([e]));
  }
}

export const person = (id: number, name: string, role: Role = 'contributor'): PersonView => ({
  id,
  name,
  initials: name.replace(/[^A-Z]/g, ''),
  role,
  email: null,
  categories: [],
  active: true,
  capacity: null,
  version: 1,
});

export const session = (role: Role): SessionView => ({
  me: {
    id: 1,
    name: 'Mara Winslow',
    initials: 'MW',
    role,
    email: 'mara@example.com',
    categories: [],
    mailMentions: false,
    mailComments: true,
  },
  blogs: [],
  blog: {
    home: 'https://halfway.example',
    addressPattern: 'slug',
    commentRules: { comments: true, commentsCloseDays: null },
    id: 1,
    version: 1,
    title: 'A blog',
    tagline: '',
    zone: 'Europe/London',
    firstWeekday: 1,
    categories: [
      { id: 1, name: 'Walks', slug: 'walks', hue: 1, version: 1 },
      { id: 2, name: 'Engines', slug: 'engines', hue: 2, version: 1 },
    ],
    slots: [],
    checks: {},
    binDays: null,
  },
  needsSetup: false,
  demo: false,
  mails: true,
});

/** A post as the server shows it to the managing editor; `parts` says what matters to the test. */
export const post = (parts: Partial<PostView> = {}): PostView =>
  ({
    id: 7,
    version: 3,
    stage: 'commissioned',
    title: 'Lamps along the feeder',
    thought: '',
    categoryId: 1,
    byline: null,
    coauthors: [],
    tags: [],
    runLocal: null,
    rating: null,
    late: false,
    brief: { angle: '', length: null, copyDate: null },
    dateConstraint: { notBefore: null, notAfter: null, mustBeOn: null },
    moves: [],
    rights: { write: true, details: true, plan: true, note: true, history: true },
    ...parts,
  }) as PostView;

/** Answers a request that is awaited, once it has been made. */
export async function answer(
  what: (request: TestRequest) => void,
  path: string,
  method = 'GET',
): Promise<void> {
  const http = TestBed.inject(HttpTestingController);
  for (let i = 0; i < 800; i++) {
    const [request] = http.match((r) => r.method === method && r.url === path).filter((r) => !r.cancelled);
    if (request) {
      what(request);
      // What waits for the answer goes on before the test does.
      await new Promise((done) => setTimeout(done));
      return;
    }
    await new Promise((done) => setTimeout(done, 2));
  }
  throw new Error(`Nobody asked ${method} ${path}.`);
}

/** Refuses a request with the server's problem details. */
export const refuse =
  (problem: object) =>
  (request: TestRequest): void =>
    request.flush(
      { type: 'about:blank', title: 'Refused', status: 400, code: 'invalid', ...problem },
      { status: 400, statusText: 'Bad Request' },
    );

/** What a save sends: its body and, as `version`, the one that it names with If-Match, if any. */
export function savedBody({ request }: TestRequest): Record<string, unknown> {
  const body = JSON.parse(request.body as string) as Record<string, unknown>;
  const seen = request.headers.get('If-Match');
  return seen === null ? body : { ...body, version: Number(seen.replaceAll('"', '')) };
}

export interface Shown<T> {
  fixture: ComponentFixture<T>;
  component: T;
  loader: HarnessLoader;
  page: HTMLElement;
  /** What a dialog was closed with. */
  closed: unknown[];
}

/** Shows a part of the newsroom to somebody who is signed in. */
export async function show<T>(
  part: Type<T>,
  given: {
    role?: Role;
    data?: unknown;
    inputs?: Record<string, unknown>;
    providers?: (Provider | EnvironmentProviders)[];
  } = {},
): Promise<Shown<T>> {
  const closed: unknown[] = [];
  TestBed.configureTestingModule({
    providers: [
      provideHttpClient(withInterceptors([problemInterceptor])),
      provideHttpClientTesting(),
      provideRouter([]),
      { provide: MatIconRegistry, useClass: FakeMatIconRegistry },
      { provide: Live, useClass: QuietLive },
      { provide: WALL_CALENDAR, useValue: { today: () => NOW.slice(0, 10), firstWeekday: () => 1 } },
      { provide: MAT_DIALOG_DATA, useValue: given.data },
      {
        provide: MatDialogRef,
        useValue: {
          close: (value: unknown) => closed.push(value),
          backdropClick: () => NEVER,
          keydownEvents: () => NEVER,
        },
      },
      ...(given.providers ?? []),
    ],
  });
  const known = TestBed.inject(SessionService).refresh();
  await answer((r) => r.flush(session(given.role ?? 'managing editor')), '/api/session');
  await known;
  const fixture = TestBed.createComponent(part);
  for (const [name, value] of Object.entries(given.inputs ?? {})) fixture.componentRef.setInput(name, value);
  await fixture.whenStable();
  return {
    fixture,
    component: fixture.componentInstance,
    loader: TestbedHarnessEnvironment.documentRootLoader(fixture),
    page: fixture.nativeElement as HTMLElement,
    closed,
  };
}

@Component({ template: '' })
class Nothing {}

/** A service as somebody who is signed in has it, with those that it leans on. */
export async function work<T>(
  service: Type<T>,
  given: { role?: Role; providers?: (Provider | EnvironmentProviders)[] } = {},
): Promise<T> {
  await show(Nothing, { ...given, providers: [service, ...(given.providers ?? [])] });
  return TestBed.inject(service);
}

/** A dated post as the planner has it; `parts` says what matters to the test. */
export const card = (parts: Partial<PlannerCard> = {}): PlannerCard =>
  ({
    id: 7,
    version: 3,
    stage: 'commissioned',
    title: 'Lamps along the feeder',
    thought: '',
    categoryId: 1,
    byline: null,
    runLocal: '2026-12-01T08:00:00',
    rating: null,
    late: false,
    openNotes: 0,
    createdAt: '2026-11-01T09:00:00.000Z',
    dateConstraint: { notBefore: null, notAfter: null, mustBeOn: null },
    checks: { blocks: 0, warns: 0 },
    openChores: [],
    doneChores: 0,
    reads: null,
    ...parts,
  }) as PlannerCard;

/** A card as the server packs it; the people whom it names are sent beside. */
const packed = (card: PlannerCard): PackedCard => {
  const { byline, dateConstraint, checks } = card;
  const values = { ...card, bylineId: byline?.id ?? null, ...dateConstraint, ...checks };
  return PACKED_CARD.map((name) => values[name] ?? NOTHING[name] ?? null);
};
const NOTHING: Partial<PackedValues> = { excerpt: '', words: 0 };
const people = (cards: readonly PlannerCard[]) => cards.flatMap((c) => c.byline ?? []);
export const packedCards = (cards: readonly PlannerCard[]): PackedCards => ({
  nowLocal: '2026-11-26T10:00:00',
  people: people(cards),
  cards: cards.map(packed),
});

/** Four weeks of the planner, from the Monday of the tests' week, as the server answers. */
export const plan = (
  cards: readonly PlannerCard[] = [],
  parts: Partial<Omit<PlannerAnswer, 'cards' | 'people'>> = {},
): PlannerAnswer =>
  ({
    ...packedCards(cards),
    from: '2026-11-23',
    to: '2026-12-20',
    today: '2026-11-26',
    late: [],
    onTop: [],
    slots: [],
    absences: [],
    writers: [],
    ...parts,
  }) as PlannerAnswer;
