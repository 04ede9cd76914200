import { Injectable, inject, signal } from '@angular/core';
import type { PersonView } from '@keyroster/contract';
import { Api } from '../api/api';
import { Live } from '../api/live';

type Colleague = Pick<PersonView, 'id' | 'name' | 'role'>;

/** The people of the newsroom who can be written to, fetched when somebody first needs them. */
@Injectable({ providedIn: 'root' })
export class Staff {
  private readonly api = inject(Api);
  private readonly list = signal<Colleague[] | null>(null);

  constructor() {
    inject(Live).whenever(['people'], () => this.list() && this.fetch());
  }

  /** Those with an open account who enter the newsroom; none while they are on their way. */
  people(): readonly Colleague[] {
    return this.list() ?? [];
  }

  async need(): Promise<void> {
    if (!this.list()) await this.fetch();
  }

  private async fetch(): Promise<void> {
    const people = await this.api.call('people.list', {}).catch(() => null);
    if (people)
      this.list.set(
        people
          .filter((p) => p.active && p.role !== 'reader')
          .map(({ id, name, role }) => ({ id, name, role })),
      );
  }
}
