import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, input, linkedSignal, output, signal, viewChild } from '@angular/core';
import { completionsOf, parseFilter, saySpan, tokenFault, writeFilter, writeToken, FILTER_KEYS, type Completion, type FilterNames, type FilterToken } from '@keyroster/core';

const LATER_MS = 250;

/** The words of what is typed; a token without its value yet is no filter. */
const wordsIn = (typed: string) => typed.replace(/-?[a-z-]+:"?$/iu, '').trim();

/** The one line that finds: words and tokens, completed as one types. Tokens stand as chips; Backspace at the start takes the last one back into the line. */
@Component({
  selector: 'kr-filter-line',
  template: `
    <div class="line" (click)="focus()">
      @for (t of tokens(); track write(t)) {
        <button type="button" class="chip" [class.wrong]="wrong(t)" [title]="wrong(t) ?? 'Take it away'" (click)="drop(t); $event.stopPropagation()" [attr.aria-label]="'Take away: ' + (t.not ? 'not ' : '') + t.key + ' ' + say(t) + (wrong(t) ? '. ' + wrong(t) : '')">@if (t.not) { <i>not</i> }<b>{{ t.key }}</b> {{ say(t) }} <span aria-hidden="true">✕</span></button>
      }
      <input #box type="text" role="combobox" aria-label="Find posts by words or a filter" autocomplete="off" spellcheck="false" maxlength="1000" aria-autocomplete="list" aria-controls="completions" [attr.aria-expanded]="shown().length > 0" [attr.aria-activedescendant]="at() >= 0 ? 'completion-' + at() : null"
        [value]="typed()" [placeholder]="tokens().length ? 'add words or a filter …' : 'Words, “a phrase”, -not this, or a filter such as byline: or lacks:'" (input)="type(box.value)" (keydown)="key($event)" (blur)="leave()" />
    </div>
    @if (shown().length > 0) {
      <ul id="completions" role="listbox" aria-label="Filters to choose from">
        @for (c of shown(); track c.put; let i = $index) { <li role="option" [id]="'completion-' + i" [attr.aria-selected]="i === at()" (mousedown)="$event.preventDefault(); take(c)"><b>{{ c.name }}</b> <span>{{ c.hint }}</span></li> }
      </ul>
    }
    @if (fault(); as f) { <p class="wrongly" role="status">{{ f }}</p> }
  `,
  styles: `
    :host { display: block; position: relative; } .line { display: flex; flex-wrap: wrap; gap: 5px; align-items: center; border: 1px solid var(--line); border-radius: 4px; background: var(--field); padding: 4px 6px; cursor: text; } .line:focus-within { outline: 2px solid var(--ink); outline-offset: 1px; } input { flex: 1; min-width: 220px; border: 0; background: none; outline: 0; padding: 4px 3px; min-height: 28px; }
    .chip { border: 0; border-radius: 3px; background: var(--verdigris-wash); color: var(--ink); padding: 3px 7px; cursor: pointer; min-height: 26px; max-width: 100%; overflow-wrap: anywhere; text-align: left; } .chip b { color: var(--verdigris); font-weight: 650; } .chip i { color: var(--madder); } .chip span { color: var(--soft); font-size: 10px; } .chip.wrong { background: var(--brass-wash); } .chip.wrong b { color: var(--brass); }
    ul { position: absolute; z-index: 5; left: 0; right: 0; top: 100%; margin: 2px 0 0; padding: 3px; list-style: none; background: var(--sheet); border: 1px solid var(--line); border-radius: 4px; max-width: 480px; box-shadow: 0 1px 1px rgb(0 0 0 / 12%); } li { padding: 6px 9px; border-radius: 3px; cursor: pointer; } li span { color: var(--soft); margin-left: 8px; } li[aria-selected='true'] { background: var(--verdigris-wash); } .wrongly { color: var(--brass); margin: 4px 2px 0; font-weight: 550; }
  `,
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
  private timer: ReturnType<typeof setTimeout> | undefined;
  protected readonly tokens = linkedSignal(() => parseFilter(this.line()).tokens);
  /** What stands in the box. A line that comes back as it was told leaves alone what is being typed on. */
  protected readonly typed = linkedSignal<string, string>({ source: this.line, computation: (line, before) => { const { words } = parseFilter(line); return before && wordsIn(before.value) === words ? before.value : words; } });
  private readonly completing = signal<Completion[]>([]);
  protected readonly at = signal(-1);
  protected readonly shown = this.completing.asReadonly();
  protected readonly fault = computed(() => { for (const t of this.tokens()) { const f = this.wrong(t); if (f) return f; } return null; });

  focus(): void {
    this.box().nativeElement.focus();
  }

  protected wrong(token: FilterToken): string | null {
    return Object.keys(this.names()).length === 0 ? null : tokenFault(token, this.names());
  }

  protected say(t: FilterToken): string {
    return FILTER_KEYS[t.key].takes === 'span' ? saySpan(t.value, this.today()) : t.value;
  }

  protected type(text: string): void {
    // A token is complete once a space follows it; what is still being typed stays in the box.
    const done = /^(.*\s)(\S*)$/s.exec(text);
    const open = (text.match(/"/g) ?? []).length % 2 === 1;
    const read = done && !open ? parseFilter(done[1]!) : null;
    if (read && read.tokens.length > 0) {
      this.tokens.update((all) => [...all, ...read.tokens.filter((t) => !all.some((a) => writeToken(a) === writeToken(t)))]);
      text = [read.words, done![2]].filter(Boolean).join(' ');
      this.box().nativeElement.value = text;
    }
    this.typed.set(text);
    this.completing.set(completionsOf(this.word(text), this.names(), this.today()));
    this.at.set(-1);
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.tell(), LATER_MS);
  }

  protected key(event: KeyboardEvent): void {
    const list = this.completing();
    const { key } = event;
    if (list.length > 0 && (key === 'ArrowDown' || key === 'ArrowUp')) {
      event.preventDefault();
      this.at.set(key === 'ArrowDown' ? (this.at() + 1) % list.length : (Math.max(this.at(), 0) + list.length - 1) % list.length);
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
    } else if (key === 'Backspace' && this.box().nativeElement.selectionEnd === 0 && this.tokens().length > 0) {
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
    if (!whole) { this.completing.set([]); this.tell(); }
  }

  protected drop(token: FilterToken): void {
    this.tokens.update((all) => all.filter((t) => t !== token));
    this.tell();
    this.focus();
  }

  protected leave(): void {
    setTimeout(() => { if (!this.host.nativeElement.contains(document.activeElement)) this.completing.set([]); }, 100);
  }

  /** The word before the caret: after the last space that is in no quotation. */
  private word(text: string): string {
    return /(?:-?[a-z-]+:"[^"]*|\S*)$/iu.exec(text)?.[0] ?? '';
  }

  private tell(): void {
    clearTimeout(this.timer);
    const line = writeFilter({ tokens: this.tokens(), words: wordsIn(this.typed()) });
    if (line !== writeFilter(parseFilter(this.line()))) this.changed.emit(line);
  }
}
