import { CdkDrag, CdkDropList, CdkDropListGroup, type CdkDragDrop } from '@angular/cdk/drag-drop';
import { LiveAnnouncer } from '@angular/cdk/a11y';
import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import type { PieceView, RolloutView } from '@keyroster/contract';
import { TIMING_KINDS, sayTiming, type Timing } from '@keyroster/core';
import { capital, sayDue, sayState } from './say-piece';
import { TimingField } from './timing-field';

type Kind = Timing['kind'];
const NAMES: Record<Kind, string> = { 'same hour': 'same hour', 'same day': 'same day', 'next day': 'next day', weekday: 'that weekday', 'next week': 'next week', 'next month': 'next month', date: 'own date' };

/** A post's pieces in the order they go out, from its release on. A stop is dragged to another place, moved with the keys, or given its time in the list. */
@Component({
  selector: 'kr-rollout-line',
  imports: [CdkDropListGroup, CdkDropList, CdkDrag, TimingField],
  template: `
    <section aria-label="Rollout">
      <div class="top"><span><b>Rollout</b> @if (view().post.releaseLocal; as at) { · release {{ due(at) }} } @else { · the post has no run time yet }</span>
        <span class="row"><span class="soft">{{ editable() ? 'times follow the release; drag a stop, or Alt ← → with the keys' : 'times follow the release' }}</span><button class="btn small" [attr.aria-pressed]="asList()" (click)="asList.set(!asList())">{{ asList() ? 'As a line' : 'As a list' }}</button></span></div>
      @if (view().clashes.length > 0) { <div class="clash" role="status"><ul>@for (c of view().clashes; track c.pieceId + c.what) { <li>{{ c.sentence }}</li> }</ul>@if (view().maySend) { <button class="btn small" (click)="spread.emit()">Spread them</button> }</div> }
      @if (asList()) {
        <table><caption class="unseen">Pieces in the order they go out</caption><thead><tr><th scope="col">Piece</th><th scope="col">Outlet</th><th scope="col">When</th><th scope="col">That is</th><th scope="col">State</th></tr></thead>
          <tbody>@for (p of view().pieces; track p.id) { <tr><td><button class="link" (click)="opened.emit(p)">{{ capital(p.kind) }}</button></td><td>{{ p.outlet }}</td><td>@if (movable(p)) { <kr-timing [timing]="p.timing" [due]="p.dueLocal" (changed)="moved.emit({ piece: p, timing: $event })" /> } @else { {{ say(p.timing) }} }</td><td>{{ due(p.dueLocal) }}</td><td [class.bad]="p.send?.state === 'failed'" [class.stale]="p.send?.state === 'unsure'">{{ state(p) }}</td></tr> }</tbody></table>
      } @else {
        <div class="track" cdkDropListGroup>
          <div class="zone first"><span class="name">release</span><i class="mark" [class.out]="view().post.stage === 'published'"></i></div>
          @for (z of zones(); track z.kind) {
            <div class="zone" role="group" [attr.aria-label]="names[z.kind]" cdkDropList [cdkDropListData]="z.kind" cdkDropListSortingDisabled [cdkDropListDisabled]="!editable()" (cdkDropListDropped)="drop($event)">
              <span class="name">{{ names[z.kind] }}</span>
              @for (p of z.pieces; track p.id) {
                <button class="stop" cdkDrag [cdkDragData]="p" [cdkDragDisabled]="!movable(p)" [attr.data-piece]="p.id" [class.clashing]="clashing().has(p.id)" [attr.aria-label]="capital(p.kind) + ' for ' + p.outlet + ', ' + say(p.timing) + ', ' + due(p.dueLocal) + ', ' + state(p)" [attr.aria-keyshortcuts]="movable(p) ? 'Alt+ArrowLeft Alt+ArrowRight' : null" (click)="opened.emit(p)" (keydown)="key($event, p)">
                  <i class="mark" [class.out]="p.send?.state === 'sent'" [class.held]="!p.send" [class.wrong]="p.send?.state === 'failed' || p.send?.state === 'unsure' || p.send?.state === 'stopped'"></i>
                  <b>{{ capital(p.kind) }}</b><span>{{ p.outlet }}</span><span>{{ due(p.dueLocal) }}</span><span class="state">{{ state(p) }}</span></button>
              }
            </div>
          }
        </div>
      }
    </section>
  `,
  styles: `
    section { background: var(--sheet); border: 1px solid var(--line); border-radius: 4px; padding: 9px 14px 10px; } .top { display: flex; justify-content: space-between; gap: 10px; flex-wrap: wrap; font-size: 12px; margin-bottom: 9px; align-items: center; } .clash { display: flex; justify-content: space-between; gap: 10px; align-items: start; background: var(--brass-wash); border-radius: 4px; padding: 6px 10px; margin-bottom: 8px; } .clash ul { margin: 0; padding-left: 16px; }
    .track { position: relative; display: grid; grid-template-columns: 58px repeat(7, minmax(88px, 1fr)); min-height: 96px; overflow-x: auto; } .track::before { content: ''; position: absolute; left: 0; right: 0; top: 29px; height: 2px; background: var(--ink); }
    .zone { position: relative; padding: 0 3px; min-width: 0; border-left: 1px dotted var(--line); } .first { border-left: 0; } .name { display: block; height: 22px; font-size: 11px; color: var(--soft); text-align: center; white-space: nowrap; } .first .name { color: var(--ink); font-weight: 600; } .zone.cdk-drop-list-dragging { background: var(--verdigris-wash); } .zone ::ng-deep > .cdk-drag-placeholder { opacity: .35; }
    .mark { display: block; width: 12px; height: 12px; border-radius: 2px; margin: 2px auto 5px; transform: rotate(45deg); background: var(--sheet); border: 2px solid var(--verdigris); position: relative; } .mark.out { background: var(--verdigris); } .mark.held { border-color: var(--soft); border-style: dashed; } .mark.wrong { border-color: var(--madder); }
    .stop { position: relative; display: block; width: 100%; border: 0; background: none; padding: 0 0 8px; text-align: center; font-size: 11px; color: var(--soft); cursor: pointer; line-height: 1.25; overflow-wrap: anywhere; } .stop b { display: block; color: var(--ink); font-size: 12px; font-weight: 600; } .stop span { display: block; } .stop:hover b { text-decoration: underline; } .clashing b { color: var(--brass); } .stop + .stop { border-top: 1px solid var(--hair); padding-top: 5px; }
    table { width: 100%; border-collapse: collapse; } th { text-align: left; color: var(--soft); font-weight: 600; border-bottom: 2px solid var(--ink); padding: 4px 8px; } td { border-bottom: 1px solid var(--hair); padding: 4px 8px; vertical-align: middle; } .link { border: 0; background: none; padding: 0; color: var(--verdigris); font-weight: 600; cursor: pointer; } .bad { color: var(--madder); font-weight: 600; } .stale { color: var(--brass); font-weight: 600; }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RolloutLine {
  private readonly announcer = inject(LiveAnnouncer);
  readonly view = input.required<RolloutView>();
  readonly opened = output<PieceView>();
  readonly moved = output<{ piece: PieceView; timing: Timing }>();
  readonly spread = output();
  protected readonly asList = signal(false);
  protected readonly names = NAMES;
  protected readonly capital = capital;
  protected readonly due = sayDue;
  protected readonly say = sayTiming;
  protected readonly state = sayState;
  protected readonly editable = computed(() => this.view().mayMake);
  protected readonly clashing = computed(() => new Set(this.view().clashes.map((c) => c.pieceId)));
  protected readonly zones = computed(() => TIMING_KINDS.map((kind) => ({ kind, pieces: this.view().pieces.filter((p) => p.timing.kind === kind) })));
  protected readonly movable = (p: PieceView) => this.editable() && (p.send === null || ['waiting', 'stopped', 'failed'].includes(p.send.state)) && (p.send === null || this.view().maySend);

  protected drop(event: CdkDragDrop<Kind>): void {
    const piece = event.item.data as PieceView;
    if (event.container.data !== piece.timing.kind) this.put(piece, event.container.data);
  }

  protected key(event: KeyboardEvent, piece: PieceView): void {
    if (!event.altKey || !this.movable(piece) || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) return;
    event.preventDefault();
    const to = TIMING_KINDS[TIMING_KINDS.indexOf(piece.timing.kind) + (event.key === 'ArrowLeft' ? -1 : 1)];
    if (!to) return;
    this.put(piece, to);
    void this.announcer.announce(`${capital(piece.kind)}: ${NAMES[to]}`);
    setTimeout(() => document.querySelector<HTMLElement>(`[data-piece="${piece.id}"]`)?.focus(), 400);
  }

  /** The same time of day at another distance from the release. */
  private put(piece: PieceView, kind: Kind): void {
    const time = 'time' in piece.timing ? piece.timing.time : (piece.dueLocal?.slice(11, 16) ?? '12:30');
    const timing: Timing = kind === 'same hour' ? { kind, minutes: 0 } : kind === 'weekday' ? { kind, weekday: 5, time } : kind === 'date' ? { kind, local: piece.dueLocal ?? `${new Date(Date.now() + 86_400_000).toISOString().slice(0, 10)}T${time}:00` } : { kind, time };
    this.moved.emit({ piece, timing });
  }
}
