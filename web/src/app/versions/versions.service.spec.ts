import { TestBed } from '@angular/core/testing';
import type { VersionView } from '@keyroster/contract';
import type { ComparedBlock } from '@keyroster/core';
import { Subject } from 'rxjs';
import { answer, post, refuse, work } from '../../testing/newsroom';
import { Live } from '../api/live';
import { Comparing } from './comparing';
import { VersionsService } from './versions.service';

const version = (n: number) => ({ version: n, name: '' }) as VersionView;
const LIST = '/api/posts/7/versions';
let compared: Subject<ComparedBlock[]>;
async function open(numbers: number[], more = false): Promise<VersionsService> {
  compared = new Subject();
  const service = await work(VersionsService, {
    providers: [{ provide: Comparing, useValue: { compare: () => compared } }],
  });
  void service.open(7);
  await listed(numbers, more);
  return service;
}
async function listed(numbers: number[], more = false): Promise<void> {
  await answer((r) => r.flush(post()), '/api/posts/7');
  await answer((r) => r.flush({ versions: numbers.map(version), more, lastRead: 2, readersSee: 1 }), LIST);
}
const numbers = (service: VersionsService) => service.versions().map((v) => v.version);

describe('the versions of a post', () => {
  it('stay further back when new ones come', async () => {
    const service = await open([4, 3], true);
    void service.older();
    await answer((r) => {
      expect(r.request.params.get('before') ?? r.request.urlWithParams).toContain('3');
      r.flush({ versions: [version(2), version(1)], more: false });
    }, LIST);
    expect([numbers(service), service.more()]).toEqual([[4, 3, 2, 1], false]);
    (TestBed.inject(Live) as unknown as { events: Subject<object> }).events.next({ kind: 'post', postId: 7 });
    await listed([5, 4, 3], true);
    expect([numbers(service), service.more()]).toEqual([[5, 4, 3, 2, 1], false]);
  });

  it('are not asked for when another post changes', async () => {
    const service = await open([1]);
    (TestBed.inject(Live) as unknown as { events: Subject<object> }).events.next({ kind: 'post', postId: 8 });
    await expect(listed([2])).rejects.toThrow('Nobody asked');
    expect(numbers(service)).toEqual([1]);
  });

  it('are compared in the order in which they are asked for: the one before is called off', async () => {
    const service = await open([3, 2, 1]);
    service.show(1, 2);
    service.show(2, 3);
    await answer((r) => r.flush({ from: {}, to: {} }), '/api/posts/7/comparison');
    const blocks = [{ kind: 'same' }] as unknown as ComparedBlock[];
    compared.next(blocks);
    expect(service.blocks()).toBe(blocks);
    // While two others are fetched, nothing older stands there.
    service.show(1, 3);
    expect(service.blocks()).toBeNull();
    await answer(refuse({ detail: 'Version 1 is not kept any more.' }), '/api/posts/7/comparison');
    expect([service.blocks(), service.error()]).toEqual([null, 'Version 1 is not kept any more.']);
    // A refusal ends nothing.
    service.show(2, 3);
    await answer((r) => r.flush({ from: {}, to: {} }), '/api/posts/7/comparison');
    expect(service.error()).toBe('');
  });

  it('are restored upon the post as it stands here, and the refusal is told', async () => {
    const service = await open([3, 2]);
    const restored = service.restore({ version: 2 } as never);
    expect(service.busy()).toBe(true);
    await answer(
      (r) => {
        expect(r.request.headers.get('If-Match')).toContain('3');
        refuse({ detail: 'Edda Thorne changed this post in the meantime.' })(r);
      },
      '/api/posts/7/restorings',
      'POST',
    );
    expect(await restored).toBe(false);
    expect([service.busy(), service.error()]).toEqual([
      false,
      'Edda Thorne changed this post in the meantime.',
    ]);
  });

  it('get a name in their place', async () => {
    const service = await open([2, 1]);
    const named = service.name(1, 'As pitched');
    await answer((r) => r.flush({ ...version(1), name: 'As pitched' }), '/api/posts/7/version-name', 'PUT');
    await named;
    expect(service.versions().map((v) => v.name)).toEqual(['', 'As pitched']);
  });
});
