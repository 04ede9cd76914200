import { TestBed } from '@angular/core/testing';
import type { RolloutView } from '@keyroster/contract';
import type { Subject } from 'rxjs';
import { Live } from '../api/live';
import { answer, work } from '../../testing/newsroom';
import { RolloutService } from './rollout.service';

const rollout = (state: string) =>
  ({ post: { id: 7 }, pieces: [{ id: 1, version: 1, send: { state } }] }) as unknown as RolloutView;
const states = (service: RolloutService) => service.pieces().map((p) => p.send?.state);
const heard = () =>
  (TestBed.inject(Live) as unknown as { events: Subject<object> }).events.next({ kind: 'outlet', postId: 7 });

describe('a rollout', () => {
  it('shows what went out before the answer to its approval came', async () => {
    const service = await work(RolloutService);
    void service.open(7);
    await answer((r) => r.flush(rollout('none')), '/api/posts/7/rollout');
    const approved = service.approveAll();
    // The piece is sent at once; the newsroom says so while the approval's own answer is on its way.
    heard();
    await answer(
      (r) => r.flush({ ...rollout('waiting'), staying: [{ pieceId: 1, sentence: 'It is full.' }] }),
      '/api/posts/7/rollout/approval',
      'POST',
    );
    expect(await approved).toEqual([{ pieceId: 1, sentence: 'It is full.' }]);
    expect(states(service)).toEqual(['waiting']);
    await answer((r) => r.flush(rollout('sent')), '/api/posts/7/rollout');
    await new Promise((done) => setTimeout(done));
    expect(states(service)).toEqual(['sent']);
  });
});
