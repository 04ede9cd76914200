import { Injectable, inject, signal } from '@angular/core';
import type { NewOutlet, OutletChanges, OutletView, SendingView } from '@keyroster/contract';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { Messages } from '../ui/messages.service';
import { Saving } from '../changes/saving.service';

/** The outlets, and the switch that stops all sending. */
@Injectable()
export class OutletsService {
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly messages = inject(Messages);
  readonly outlets = signal<OutletView[] | null>(null);
  readonly sending = signal<SendingView>({ stopped: false, by: null, at: null });
  readonly error = signal('');

  constructor() {
    void this.load();
    inject(Live).gathered(['outlet'], () => void this.load());
  }

  async load(): Promise<void> {
    try {
      const [outlets, sending] = await Promise.all([
        this.api.call('outlets.list', {}),
        this.api.call('sending.see', {}),
      ]);
      this.outlets.set(outlets);
      this.sending.set(sending);
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  async stop(stopped: boolean): Promise<void> {
    try {
      this.sending.set(await this.api.call('sending.change', { body: { stopped } }));
      this.messages.done(
        stopped
          ? 'Nothing is sent until somebody lets it go on. What was on its way arrives.'
          : 'Sending goes on.',
        stopped ? () => this.stop(false) : undefined,
      );
    } catch (error) {
      this.messages.failed(error);
    }
  }

  /** Adds an outlet, or changes one. */
  async store(outlet: OutletView | null, body: NewOutlet): Promise<OutletView> {
    const stored =
      outlet === null
        ? await this.api.call('outlets.add', { body })
        : await this.saving.save('outlets.change', outlet, body);
    await this.load();
    return stored;
  }

  async change(outlet: OutletView, body: OutletChanges, said: string): Promise<void> {
    try {
      await this.saving.save('outlets.change', outlet, body);
      await this.load();
      this.messages.done(said);
    } catch (error) {
      this.messages.failed(error);
    }
  }

  async try(id: number): Promise<string> {
    try {
      return (await this.api.call('outlets.try', { id, body: {} })).sentence;
    } catch (error) {
      return sentenceOf(error);
    }
  }
}
