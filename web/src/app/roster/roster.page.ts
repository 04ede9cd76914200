import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { PersonChanges, PersonView } from '@keyroster/contract';
import { ROLES, type Role } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { PersonBadge } from '../ui/person-badge';
import { Say } from '../ui/say.service';

/** The people of the newsroom and what they may do. The managing editor adds and changes them here. */
@Component({
  imports: [RouterLink, PersonBadge],
  template: `
    <div class="screen">
      <h1>Roster</h1>
      @if (fault()) { <p class="fault" role="alert" style="margin-top: 8px">{{ fault() }}</p> }
      <table>
        <caption class="unseen">People</caption>
        <thead><tr><th scope="col">Name</th><th scope="col">Role</th><th scope="col">Edits</th><th scope="col">Signs in as</th><th scope="col"><span class="unseen">Account</span></th></tr></thead>
        <tbody>
          @for (p of people(); track p.id) {
            <tr [class.gone]="!p.active"><td><a routerLink="/archive" [queryParams]="{ line: 'byline:&quot;' + p.name + '&quot;' }"><kr-person [person]="p" /></a></td>
              <td>@if (manages() && p.id !== session.me()?.id) { <select [attr.aria-label]="'Role of ' + p.name" (change)="change(p, { role: $any($event.target).value })">@for (r of roles; track r) { <option [value]="r" [selected]="r === p.role">{{ r }}</option> }</select> } @else { {{ p.role }} }</td>
              <td>@if (p.role === 'editor') { @if (manages()) { <div class="cats">@for (c of session.blog()?.categories ?? []; track c.id) { <label><input type="checkbox" [checked]="p.categories.includes(c.id)" (change)="give(p, c.id, $any($event.target).checked)" /> {{ c.name }}</label> }</div> } @else { {{ names(p) }} } } @else if (p.role === 'managing editor') { everything }</td>
              <td class="soft">{{ p.email }}</td>
              <td>@if (manages() && p.id !== session.me()?.id) { <button class="btn small" (click)="change(p, { active: !p.active })">{{ p.active ? 'Close the account' : 'Open it again' }}</button> }</td></tr>
          }
        </tbody>
      </table>
      @if (manages()) {
        <form (submit)="add($event, name, email, password, role.value)" novalidate>
          <h2>Add a person</h2>
          <div class="grid">
            <label class="field"><span>Name</span><input #name maxlength="120" autocomplete="off" /></label>
            <label class="field"><span>E-mail</span><input #email type="email" autocomplete="off" /></label>
            <label class="field"><span>First password</span><input #password type="password" autocomplete="new-password" /><small>At least 10 characters.</small></label>
            <label class="field"><span>Role</span><select #role>@for (r of roles; track r) { <option [value]="r" [selected]="r === 'contributor'">{{ r }}</option> }</select></label>
          </div>
          <button class="btn act" type="submit">Add to the roster</button>
        </form>
      }
    </div>
  `,
  styles: `
    table { width: 100%; border-collapse: collapse; background: var(--sheet); border: 1px solid var(--line); margin: 10px 0 24px; } th { text-align: left; font-weight: 600; color: var(--soft); border-bottom: 2px solid var(--ink); padding: 7px 10px; } td { padding: 7px 10px; border-bottom: 1px solid var(--hair); vertical-align: middle; }
    td a { color: var(--ink); text-decoration: none; font: 540 15px var(--serif); } .gone { opacity: .6; } select { width: auto; } .cats { display: flex; flex-wrap: wrap; gap: 3px 12px; font-size: 12px; } .cats label { white-space: nowrap; } h2 { margin-bottom: 10px; }
    .grid { display: grid; grid-template-columns: repeat(4, 1fr); gap: 0 14px; } @media (max-width: 900px) { .grid { grid-template-columns: 1fr; } td:nth-child(4), th:nth-child(4) { display: none; } } @media (max-width: 620px) { table, tbody, tr, td { display: block; } thead { display: none; } tr { padding: 8px 4px; border-bottom: 1px solid var(--line); } td { border: 0; padding: 3px 8px; } td:empty { display: none; } }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RosterPage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  protected readonly roles = ROLES;
  protected readonly people = signal<PersonView[]>([]);
  protected readonly fault = signal('');
  protected readonly manages = () => this.session.may('managePeople');

  constructor() {
    void this.refresh();
    inject(Live).whenever(['people', 'blog'], () => void this.refresh());
  }

  protected names(p: PersonView): string {
    return p.categories.map((id) => this.session.category(id)?.name ?? '').join(', ');
  }

  protected give(p: PersonView, categoryId: number, has: boolean): void {
    void this.change(p, { categories: has ? [...p.categories, categoryId] : p.categories.filter((id) => id !== categoryId) });
  }

  protected async change(p: PersonView, changes: PersonChanges): Promise<void> {
    try {
      await this.api.call('people.change', { id: p.id, body: changes });
      this.fault.set('');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
    await this.refresh();
  }

  protected async add(event: Event, name: HTMLInputElement, email: HTMLInputElement, password: HTMLInputElement, role: string): Promise<void> {
    event.preventDefault();
    try {
      const person = await this.api.call('people.add', { body: { name: name.value, email: email.value, password: password.value, role: role as Role, categories: [] } });
      for (const field of [name, email, password]) field.value = '';
      this.fault.set('');
      this.say.done(`${person.name} is on the roster as ${person.role}.`);
      await this.refresh();
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }

  private async refresh(): Promise<void> {
    this.people.set(await this.api.call('people.list', {}).catch(() => this.people()));
  }
}
