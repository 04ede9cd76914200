import { TestBed } from '@angular/core/testing';
import { of } from 'rxjs';
import { SessionService } from './accounts/session.service';
import { WhenIdle } from './when-idle';

describe('code of screens that are opened often', () => {
  const idle: (() => void)[] = [];
  let isIn: boolean;
  let fetched: number;
  beforeEach(() => {
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
    Reflect.deleteProperty(window, 'requestIdleCallback');
    Reflect.deleteProperty(window, 'cancelIdleCallback');
  });
  const preload = (data: object) =>
    TestBed.inject(WhenIdle)
      .preload({ data }, () => of(++fetched))
      .subscribe();

  it('is fetched once the browser has nothing else to do', () => {
    preload({ preload: true });
    expect(fetched).toBe(0);
    idle[0]!();
    expect(fetched).toBe(1);
  });

  it('is not fetched for other screens, nor by somebody who may not open them', () => {
    preload({});
    isIn = false;
    preload({ preload: true });
    expect(idle).toEqual([]);
  });

  it('waits a little where a browser does not say that it is idle', async () => {
    Reflect.deleteProperty(window, 'requestIdleCallback');
    preload({ preload: true });
    expect(fetched).toBe(0);
    await new Promise((done) => setTimeout(done, 2100));
    expect(fetched).toBe(1);
  });
});
