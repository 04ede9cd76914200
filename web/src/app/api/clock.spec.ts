import { HttpClient, provideHttpClient, withInterceptors } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { Clock, clockInterceptor } from './clock';

const secondsFromHere = (s: number) => new Date(Date.now() + s * 1000).toUTCString();
const ahead = () => Math.round((TestBed.inject(Clock).now().getTime() - Date.now()) / 1000);

describe('the time', () => {
  const answer = (date: string | null) => {
    TestBed.inject(HttpClient).get('/api/session').subscribe();
    TestBed.inject(HttpTestingController)
      .expectOne('/api/session')
      .flush({}, { headers: date === null ? {} : { Date: date } });
  };
  beforeEach(() =>
    TestBed.configureTestingModule({
      providers: [provideHttpClient(withInterceptors([clockInterceptor])), provideHttpClientTesting()],
    }),
  );

  it('is that of the server, where the clock here is wrong', () => {
    answer(secondsFromHere(3600));
    expect(Math.abs(ahead() - 3600)).toBeLessThanOrEqual(1);
    answer(secondsFromHere(-86_400));
    expect(Math.abs(ahead() + 86_400)).toBeLessThanOrEqual(1);
  });

  it('is that of the clock here, where the two are alike or nothing is told', () => {
    answer(secondsFromHere(4));
    expect(ahead()).toBe(0);
    answer(null);
    answer('no date');
    expect(ahead()).toBe(0);
  });
});
