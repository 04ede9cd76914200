import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { catchError, of, switchMap } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { Api } from '../api/api';

/** Figures of a person, an outlet or a post, in place: a few sentences, and the way to more. */
@Component({
  selector: 'kr-figures',
  imports: [RouterLink],
  template: `
    @if (sentences().length > 0) {
      <p>
        {{ sentences().join(' ') }}
        <a [routerLink]="more()">Results</a>
      </p>
    }
  `,
  styles: `
    p {
      margin: 0 0 10px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PlaceFigures {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  readonly of = input.required<{ post: number } | { person: number } | { outlet: number }>();
  /** As words, so that the same is not asked for again. */
  private readonly asked = computed(() => JSON.stringify(this.of()));
  /** What is not available is omitted: nothing else waits for it. */
  private readonly figures = toSignal(
    toObservable(this.asked).pipe(
      switchMap((asked) =>
        this.session.may('seeResults')
          ? this.api
              .request('results.place', { query: JSON.parse(asked) as { post: number } })
              .pipe(catchError(() => of(null)))
          : of(null),
      ),
    ),
    { initialValue: null },
  );
  protected readonly sentences = computed(() => this.figures()?.sentences ?? []);
  protected readonly more = computed(() => {
    const of = this.of();
    return 'post' in of ? ['/results/posts', of.post] : ['/results'];
  });
}
