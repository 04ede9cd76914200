import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { NoteView } from '@keyroster/contract';
import { formatList, mentionsIn } from '@keyroster/core';

/** What a note says, with the people it mentions; and who of them is not told, since they may not see the post. */
@Component({
  selector: 'kr-noted',
  template: `
    <p>
      @for (part of parts(); track $index) {
        <span [class.calls]="part.calls">{{ part.text }}</span>
      }
    </p>
    @if (untold(); as who) {
      <p class="soft">{{ who }} cannot see this post, and is not told.</p>
    }
  `,
  styles: `
    .calls {
      color: var(--verdigris);
      font-weight: 600;
    }
    p {
      white-space: pre-wrap;
      overflow-wrap: anywhere;
      margin: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NotedWords {
  readonly note = input.required<NoteView>();
  protected readonly parts = computed(() => {
    const { text, mentions } = this.note();
    const parts: { text: string; calls: boolean }[] = [];
    let at = 0;
    for (const { from, to } of mentionsIn(
      text,
      mentions.map((m) => m.person),
    )) {
      parts.push({ text: text.slice(at, from), calls: false }, { text: text.slice(from, to), calls: true });
      at = to;
    }
    return [...parts, { text: text.slice(at), calls: false }].filter((p) => p.text !== '');
  });
  protected readonly untold = computed(() =>
    formatList(
      this.note()
        .mentions.filter((m) => !m.sees)
        .map((m) => m.person.name),
    ),
  );
}
