import { HttpClient, provideHttpClient, withInterceptors } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { FormControl, FormGroup } from '@angular/forms';
import { Api, ApiError, sentenceOf } from './api';
import { SignedOut, problemInterceptor } from './problem.interceptor';
import { landRefusal } from './refusals';

let api: Api;
let http: HttpTestingController;
beforeEach(() => {
  TestBed.configureTestingModule({
    providers: [provideHttpClient(withInterceptors([problemInterceptor])), provideHttpClientTesting()],
  });
  api = TestBed.inject(Api);
  http = TestBed.inject(HttpTestingController);
});
afterEach(() => http.verify());

const problem = (parts: object) => ({
  type: 'about:blank',
  title: 'Refused',
  status: 409,
  detail: 'It was changed.',
  code: 'version-conflict',
  ...parts,
});

describe('a call', () => {
  it('goes where the contract says, upon a version, with a body', async () => {
    const done = api.call('posts.change', { id: 7, ifMatch: 3, body: { title: 'Locks' } });
    const { request, flush } = ((r) => ({ request: r.request, flush: r.flush.bind(r) }))(
      http.expectOne('/api/posts/7'),
    );
    expect([request.method, request.headers.get('If-Match'), request.headers.get('Content-Type')]).toEqual([
      'PATCH',
      '"3"',
      'application/json',
    ]);
    expect(JSON.parse(request.body as string)).toEqual({ title: 'Locks' });
    flush({ sentence: 'Changed.' });
    await expect(done).resolves.toEqual({ sentence: 'Changed.' });
  });

  it('waits for a reading only so long, and for what writes until it is done', () => {
    void api.call('evergreens.see', { query: { restDays: 60, everyDays: 2, time: '12:30' } });
    void api.call('posts.change', { id: 7, ifMatch: 3, body: { title: 'Locks' } });
    const [read, written] = http.match(() => true);
    expect([read!.request.timeout, written!.request.timeout]).toEqual([60_000, undefined]);
  });

  it('leaves out what is not asked and keeps every sign of what is', async () => {
    const done = api.call('evergreens.see', { query: { restDays: 60, everyDays: 2, time: '12:30' } });
    const { request, flush } = ((r) => ({ request: r.request, flush: r.flush.bind(r) }))(
      http.expectOne((r) => r.url === '/api/evergreens'),
    );
    expect(request.urlWithParams).toBe('/api/evergreens?restDays=60&everyDays=2&time=12:30');
    flush([]);
    await done;
  });

  it.each([
    ['+1 & 2 = ü', '%2B1%20%26%202%20=%20%C3%BC'],
    ['a;b', 'a;b'],
  ])('writes “%s” so that the server reads the same', async (words, written) => {
    const done = api.call('find.all', { query: { words } });
    const [request] = http.match((r) => r.url.startsWith('/api/'));
    expect(request!.request.urlWithParams.split('=').slice(1).join('=')).toBe(written);
    request!.flush([]);
    await done;
  });

  it('is called off when nobody waits for it any more', () => {
    const stop = api.request('people.list', {}).subscribe();
    const request = http.expectOne('/api/people');
    stop.unsubscribe();
    expect(request.cancelled).toBe(true);
  });

  it('outlives the page when it is small, as browsers allow', () => {
    void api.call('posts.change', { id: 7, ifMatch: 1, body: { title: 'x' }, leaving: true });
    void api.call('posts.change', {
      id: 8,
      ifMatch: 1,
      body: { excerpt: 'x'.repeat(30_000) },
      leaving: true,
    });
    expect(http.expectOne('/api/posts/7').request.keepalive).toBe(true);
    expect(http.expectOne('/api/posts/8').request.keepalive).toBe(false);
  });
});

describe('a failure', () => {
  const failed = async (answer: (r: ReturnType<typeof http.expectOne>) => void): Promise<ApiError> => {
    const done = api.call('people.list', {}).catch((error: unknown) => error);
    answer(http.expectOne('/api/people'));
    return (await done) as ApiError;
  };

  it('says what the server says', async () => {
    const error = await failed((r) =>
      r.flush(problem({ changedBy: 'Edda' }), { status: 409, statusText: 'Conflict' }),
    );
    expect(error).toBeInstanceOf(ApiError);
    expect([error.code, error.message, error.problem?.changedBy]).toEqual([
      'version-conflict',
      'It was changed.',
      'Edda',
    ]);
  });

  it('says that there was no answer', async () => {
    const error = await failed((r) => r.error(new ProgressEvent('error')));
    expect([error.code, error.problem]).toEqual(['unreachable', null]);
    expect(sentenceOf(error)).toMatch(/cannot be reached just now\. Nothing was lost/);
  });

  it('shows nobody the words of another server', async () => {
    const error = await failed((r) => r.flush('<h1>502</h1>', { status: 502, statusText: 'Bad Gateway' }));
    expect(error.message).toMatch(/no usable answer/);
    expect(sentenceOf(new TypeError('x is undefined'))).toBe('Something went wrong here. Please try again.');
  });

  it('tells everybody when nobody is signed in any more', async () => {
    let told = 0;
    TestBed.inject(SignedOut).subscribe(() => told++);
    await failed((r) => r.flush(problem({ code: 'signed-out' }), { status: 401, statusText: 'No' }));
    expect(told).toBe(1);
  });

  it('is read out of an answer that was asked for as a file', async () => {
    const done = new Promise<ApiError>((fail) =>
      TestBed.inject(HttpClient).get('/api/x', { responseType: 'blob' }).subscribe({ error: fail }),
    );
    const words = new Blob([JSON.stringify(problem({ detail: 'Too small.', code: 'invalid' }))]);
    // The blobs of this test's browser cannot be read as text.
    words.text = () => Promise.resolve(JSON.stringify(problem({ detail: 'Too small.', code: 'invalid' })));
    http.expectOne('/api/x').flush(words, { status: 400, statusText: 'Bad' });
    expect((await done).message).toBe('Too small.');
  });
});

describe('a refusal', () => {
  const form = () => new FormGroup({ name: new FormControl(''), email: new FormControl('') });
  const refused = (fields: { field: string; sentence: string }[]) =>
    new ApiError(problem({ code: 'invalid', detail: 'Look again.', fields }) as never, 'Look again.');

  it('lands at the fields it names', () => {
    const f = form();
    expect(landRefusal(f, refused([{ field: 'email', sentence: 'That is no address.' }]))).toBe('');
    expect(f.controls.email.errors).toEqual({ server: 'That is no address.' });
    expect([f.controls.email.touched, f.controls.name.valid]).toEqual([true, true]);
    f.controls.email.setValue('a@b.example');
    expect(f.valid).toBe(true);
  });

  it('that names nothing here is said for the form', () => {
    expect(landRefusal(form(), refused([{ field: 'zone', sentence: 'No such zone.' }]))).toBe('Look again.');
    expect(landRefusal(form(), refused([]))).toBe('Look again.');
    expect(landRefusal(form(), new Error('x'))).toBe('Something went wrong here. Please try again.');
  });
});
