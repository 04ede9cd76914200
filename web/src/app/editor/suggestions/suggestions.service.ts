import { Injectable, computed, inject, signal } from '@angular/core';
import { suggestionsIn, type BodyNode, type Suggestion } from '@keyroster/core';
import { SessionService } from '../../accounts/session.service';
import { Api } from '../../api/api';
import { PostService } from '../../posts/post.service';

/** How a text with suggestions is shown. */
export const LOOKS = ['With suggestions', 'As it would be', 'As it was'] as const;

/** The text on the screen, as far as suggestions go. */
export interface ShownText {
  settle(keys: readonly string[], how: 'accept' | 'refuse'): void;
  /** Where a suggestion stands. */
  placeOf(key: string): HTMLElement | null;
}

/** What is suggested in the open text, and what becomes of it. */
@Injectable()
export class SuggestionsService {
  private readonly posts = inject(PostService);
  private readonly session = inject(SessionService);
  private readonly chosen = signal(false);
  private readonly people = signal<ReadonlyMap<number, string>>(new Map());
  private readonly text = signal<ShownText | null>(null);

  readonly list = signal<readonly Suggestion[]>([]);
  readonly look = signal<(typeof LOOKS)[number]>('With suggestions');
  /** The one that is shown in the text. */
  readonly shown = signal<string | null>(null);
  readonly mayWrite = computed(() => this.posts.post()?.rights.write ?? false);
  /** People who may not write here suggest; people who may write choose. */
  readonly must = computed(() => !this.mayWrite() && (this.posts.post()?.rights.suggest ?? false));
  readonly on = computed(() => this.must() || (this.mayWrite() && this.chosen()));
  /** How many there are: on the screen, or where no text is shown as the server last said. */
  readonly count = computed(() => (this.text() ? this.list().length : (this.posts.post()?.suggestions ?? 0)));
  /** The people who suggest something, with how much. */
  readonly makers = computed(() => {
    const count = new Map<number, number>();
    for (const { personId } of this.list()) count.set(personId, (count.get(personId) ?? 0) + 1);
    return [...count].map(([id, n]) => ({ id, n, name: this.nameOf(id) }));
  });

  constructor() {
    void inject(Api)
      .call('people.list', {})
      .then(
        (people) => this.people.set(new Map(people.map((p) => [p.id, p.name]))),
        () => undefined,
      );
  }

  /** The text that is shown, while it is. */
  use(text: ShownText | null): void {
    this.text.set(text);
  }

  read(body: BodyNode): void {
    this.list.set(suggestionsIn(body));
    if (this.list().length === 0) this.look.set('With suggestions');
  }

  toggle(): void {
    this.chosen.update((on) => !on);
  }

  nameOf(personId: number): string {
    const me = this.session.me();
    return me?.id === personId ? me.name : (this.people().get(personId) ?? 'a colleague');
  }

  isMine = (s: Suggestion): boolean => s.personId === this.session.me()?.id;

  /** Accepts or refuses suggestions in the text; a step that can be undone. */
  settle(keys: readonly string[], how: 'accept' | 'refuse'): void {
    this.text()?.settle(keys, how);
  }

  /** Leads to a suggestion in the text. */
  show(key: string): void {
    this.look.set('With suggestions');
    this.shown.set(key);
    this.text()?.placeOf(key)?.scrollIntoView({ block: 'center' });
  }
}
