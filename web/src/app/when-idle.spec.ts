import { jest } from '@jest/globals';
import { TestBed } from '@angular/core/testing';
import { of } from 'rxjs';
import { SessionService } from './accounts/session.service';
import { WhenIdle } from './when-idle';

describe('code of screens that are opened often', () => {
  const idle: (() => void)[] = [];
  let isIn: boolean;
  let fetched: number;
  beforeEach(() => {
    jest.useFakeTimers();
    idle.length = fetched = 0;
    isIn = true;
    Object.assign(window, {
      requestIdleCallback: (done: () => void) => idle.push(done),
      cancelIdleCallback: () => undefined,
    });
    TestBed.configureTestingModule({
      providers: [{ provide: SessionService, useValue: { may: () => isIn } }],
    });
  });
  afterEach(() => {
    jest.useRealTimers();
    Reflect.deleteProperty(window, 'requestIdleCallback');
    Reflect.deleteProperty(window, 'cancelIdleCallback');
  });
  const preload = (data: object) =>
    TestBed.inject(WhenIdle)
      .preload({ data }, () => of(++fetched))
      .subscribe();

  it('is fetched after the first screen, once the browser has nothing else to do', () => {
    preload({ preload: true });
    // Waiting for the first screen's data, a browser is idle, too.
    jest.advanceTimersByTime(1000);
    expect(idle).toEqual([]);
    jest.advanceTimersByTime(1000);
    expect(fetched).toBe(0);
    idle[0]!();
    expect(fetched).toBe(1);
  });

  it('is not fetched for other screens, nor by somebody who may not open them', () => {
    preload({});
    isIn = false;
    preload({ preload: true });
    jest.advanceTimersByTime(2000);
    expect(idle).toEqual([]);
  });

  it('is fetched where a browser does not say that it is idle', () => {
    Reflect.deleteProperty(window, 'requestIdleCallback');
    preload({ preload: true });
    expect(fetched).toBe(0);
    jest.advanceTimersByTime(2000);
    expect(fetched).toBe(1);
  });
});
