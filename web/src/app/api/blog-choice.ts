import type { HttpInterceptorFn } from '@angular/common/http';
import { atRoot } from './root';

/** Which of somebody's blogs this tab is at. Two tabs may be at two; a new one is at the blog chosen last. */
const KEY = 'blog';
const HEADER = 'Key-Roster-Blog';

export const chosenBlog = (): string | null => sessionStorage.getItem(KEY);
export const chooseBlog = (id: number | null): void => {
  if (id === null) sessionStorage.removeItem(KEY);
  else sessionStorage.setItem(KEY, String(id));
};

/** A link from outside says for which blog it opens the newsroom. */
const asked = new URLSearchParams(location.search).get('blog');
if (asked !== null && /^\d{1,9}$/.test(asked)) chooseBlog(Number(asked));

/** An address of the API that no request of ours asks for, but a link, a frame or a stream. */
export function inBlog(address: string): string {
  const blog = chosenBlog();
  const whole = atRoot(address);
  return blog === null ? whole : `${whole}${whole.includes('?') ? '&' : '?'}blog=${blog}`;
}

/** Asks where the newsroom stands, and says with every request at which blog this tab is. */
export const blogInterceptor: HttpInterceptorFn = (request, next) => {
  const blog = chosenBlog();
  return next(
    request.clone({ url: atRoot(request.url), ...(blog === null ? {} : { setHeaders: { [HEADER]: blog } }) }),
  );
};
