import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  inject,
  input,
  linkedSignal,
  output,
  signal,
  viewChild,
} from '@angular/core';
import {
  completionsOf,
  parseFilter,
  formatSpan,
  tokenError,
  writeFilter,
  writeToken,
  FILTER_KEYS,
  type Completion,
  type FilterNames,
  type FilterToken,
} from '@keyroster/core';
import { later } from '../ui/later';
import { MatChipsModule } from '@angular/material/chips';
import { MatIcon } from '@angular/material/icon';

const LATER_MS = 250;

/** The words of what is typed; a token without its value yet is no filter. */
const wordsIn = (typed: string) => typed.replace(/-?[a-z-]+:"?$/iu, '').trim();

/**
 * The one line that finds: words and tokens, completed as one types. Tokens stand as chips; Backspace at the
 * start takes the last one back into the line.
 */
@Component({
  selector: 'kr-filter-line',
  imports: [MatChipsModule, MatIcon],
  templateUrl: './filter-line.html',
  styleUrl: './filter-line.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FilterLine {
  readonly line = input.required<string>();
  readonly names = input.required<FilterNames>();
  readonly today = input.required<string>();
  readonly changed = output<string>();
  /** The way down into the table. */
  readonly left = output();
  protected readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  protected readonly write = writeToken;
  private readonly later = later(LATER_MS, () => this.tell());
  protected readonly tokens = linkedSignal(() => parseFilter(this.line()).tokens);
  /** What stands in the box. A line that comes back as it was told leaves alone what is being typed on. */
  protected readonly typed = linkedSignal<string, string>({
    source: this.line,
    computation: (line, before) => {
      const { words } = parseFilter(line);
      return before && wordsIn(before.value) === words ? before.value : words;
    },
  });
  private readonly completing = signal<Completion[]>([]);
  protected readonly at = signal(-1);
  protected readonly shown = this.completing.asReadonly();
  protected readonly error = computed(() => {
    for (const t of this.tokens()) {
      const f = this.wrong(t);
      if (f) return f;
    }
    return null;
  });

  focus(): void {
    this.box().nativeElement.focus();
  }

  protected wrong(token: FilterToken): string | null {
    return Object.keys(this.names()).length === 0 ? null : tokenError(token, this.names());
  }

  protected say(t: FilterToken): string {
    return FILTER_KEYS[t.key].takes === 'span' ? formatSpan(t.value, this.today()) : t.value;
  }

  protected type(text: string): void {
    // A token is complete once a space follows it; what is still being typed stays in the box.
    const done = /^(.*\s)(\S*)$/s.exec(text);
    const open = (text.match(/"/g) ?? []).length % 2 === 1;
    const read = done && !open ? parseFilter(done[1]!) : null;
    if (read && read.tokens.length > 0) {
      this.tokens.update((all) => [
        ...all,
        ...read.tokens.filter((t) => !all.some((a) => writeToken(a) === writeToken(t))),
      ]);
      text = [read.words, done![2]].filter(Boolean).join(' ');
      this.box().nativeElement.value = text;
    }
    this.typed.set(text);
    this.completing.set(completionsOf(this.word(text), this.names(), this.today()));
    this.at.set(-1);
    this.later(undefined);
  }

  protected key(event: KeyboardEvent): void {
    const list = this.completing();
    const { key } = event;
    if (list.length > 0 && (key === 'ArrowDown' || key === 'ArrowUp')) {
      event.preventDefault();
      this.at.set(
        key === 'ArrowDown'
          ? (this.at() + 1) % list.length
          : (Math.max(this.at(), 0) + list.length - 1) % list.length,
      );
    } else if (key === 'ArrowDown') {
      event.preventDefault();
      this.left.emit();
    } else if (key === 'Enter') {
      event.preventDefault();
      const chosen = list[this.at()];
      if (chosen) this.take(chosen);
      else {
        this.type(`${this.typed()} `.replace(/^ $/, ''));
        this.typed.update((t) => t.trim());
        this.completing.set([]);
        this.tell();
      }
    } else if (key === 'Tab' && this.at() >= 0) {
      event.preventDefault();
      this.take(list[this.at()]!);
    } else if (key === 'Escape' && list.length > 0) {
      event.stopPropagation();
      this.completing.set([]);
    } else if (
      key === 'Backspace' &&
      this.box().nativeElement.selectionEnd === 0 &&
      this.tokens().length > 0
    ) {
      event.preventDefault();
      const last = this.tokens().at(-1)!;
      this.tokens.update((all) => all.slice(0, -1));
      this.typed.update((t) => [writeToken(last), t].filter(Boolean).join(' '));
      this.tell();
    }
  }

  /** Puts a completion in the place of the word that was being typed. */
  protected take(completion: Completion): void {
    const text = this.typed();
    const rest = text.slice(0, text.length - this.word(text).length);
    const whole = completion.put.endsWith(':');
    this.type(`${rest}${completion.put}${whole ? '' : ' '}`);
    this.typed.update((t) => (whole ? t : t.trimEnd()));
    this.box().nativeElement.value = this.typed();
    this.focus();
    if (!whole) {
      this.completing.set([]);
      this.tell();
    }
  }

  protected drop(token: FilterToken): void {
    this.tokens.update((all) => all.filter((t) => t !== token));
    this.tell();
    this.focus();
  }

  protected leave(): void {
    setTimeout(() => {
      if (!this.host.nativeElement.contains(document.activeElement)) this.completing.set([]);
    }, 100);
  }

  /** The word before the caret: after the last space that is in no quotation. */
  private word(text: string): string {
    return /(?:-?[a-z-]+:"[^"]*|\S*)$/iu.exec(text)?.[0] ?? '';
  }

  private tell(): void {
    const line = writeFilter({ tokens: this.tokens(), words: wordsIn(this.typed()) });
    if (line !== writeFilter(parseFilter(this.line()))) this.changed.emit(line);
  }
}
