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

/** A token at the end of what is typed: more of it may come. */
const UNFINISHED = new RegExp(`-?\\b(?:${Object.keys(FILTER_KEYS).join('|')}):(?:"[^"]*"?|\\S*)$`, 'iu');

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
  /** What was told last. A line that comes back as it was told leaves alone what is being typed on. */
  private told: string | null = null;
  protected readonly tokens = linkedSignal<string, FilterToken[]>({
    source: this.line,
    computation: (line, before) =>
      before && this.isTold(line) ? before.value : [...parseFilter(line).tokens],
  });
  /** What stands in the box. */
  protected readonly typed = linkedSignal<string, string>({
    source: this.line,
    computation: (line, before) => (before && this.isTold(line) ? before.value : parseFilter(line).words),
  });
  private readonly isCompleting = signal(false);
  protected readonly at = signal(-1);
  /** Also of names that came after what was typed. */
  protected readonly shown = computed<Completion[]>(() =>
    this.isCompleting() ? completionsOf(this.word(this.typed()), this.names(), this.today()) : [],
  );
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
    this.isCompleting.set(true);
    this.at.set(-1);
    this.later(undefined);
  }

  protected key(event: KeyboardEvent): void {
    const list = this.shown();
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
      if (chosen) this.choose(chosen);
      else this.finish();
    } else if (key === 'Tab' && this.at() >= 0) {
      event.preventDefault();
      this.choose(list[this.at()]!);
    } else if (key === 'Escape' && list.length > 0) {
      event.stopPropagation();
      this.isCompleting.set(false);
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
  protected choose(completion: Completion): void {
    const text = this.typed();
    const rest = text.slice(0, text.length - this.word(text).length);
    const whole = completion.put.endsWith(':');
    this.type(`${rest}${completion.put}${whole ? '' : ' '}`);
    this.typed.update((t) => (whole ? t : t.trimEnd()));
    this.box().nativeElement.value = this.typed();
    this.focus();
    if (!whole) {
      this.isCompleting.set(false);
      this.tell();
    }
  }

  /** Takes what was typed as it is. */
  private finish(): void {
    this.type(`${this.typed()} `.replace(/^ $/, ''));
    this.typed.update((t) => t.trim());
    this.isCompleting.set(false);
    this.tell();
  }

  protected drop(token: FilterToken): void {
    this.tokens.update((all) => all.filter((t) => t !== token));
    this.tell();
    this.focus();
  }

  protected leave(): void {
    setTimeout(() => {
      const { nativeElement: host } = this.host;
      if (host.isConnected && !host.contains(document.activeElement)) this.finish();
    }, 100);
  }

  /** The word before the caret: after the last space that is in no quotation. */
  private word(text: string): string {
    return /(?:-?[a-z-]+:"[^"]*|\S*)$/iu.exec(text)?.[0] ?? '';
  }

  /** Another line than the one that was told comes from elsewhere, and what was told counts no more. */
  private isTold(line: string): boolean {
    if (writeFilter(parseFilter(line)) !== this.told) this.told = null;
    return this.told !== null;
  }

  /** Tells the line, with a token that is still being typed once it says something that is there. */
  private tell(): void {
    const unfinished = UNFINISHED.exec(this.typed())?.[0] ?? '';
    const { names } = this;
    const read = Object.keys(names()).length === 0 ? [] : parseFilter(unfinished).tokens;
    const known = read.filter(
      (t) => !tokenError(t, names()) && !this.tokens().some((a) => writeToken(a) === writeToken(t)),
    );
    const words = this.typed()
      .slice(0, this.typed().length - unfinished.length)
      .trim();
    this.told = writeFilter({ tokens: [...this.tokens(), ...known], words });
    if (this.told !== writeFilter(parseFilter(this.line()))) this.changed.emit(this.told);
  }
}
