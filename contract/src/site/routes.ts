import type { BlogView, CategoryView } from '../accounts/types.js';
import type { BlogChanges, CategoryChanges, NewCategory } from './types.js';
import type { RoutesOf } from '../route.js';

/** What goes in and comes out of each route. */
export interface SiteRoutes {
  'letter.list': { reply: never };
  'blog.change': { body: BlogChanges; reply: BlogView };
  'categories.add': { body: NewCategory; reply: CategoryView };
  'categories.change': { id: true; body: CategoryChanges; reply: CategoryView };
}

/** Who may call what, and where. */
export const SITE_ROUTES = {
  'letter.list': {
    method: 'GET',
    path: '/api/letter.csv',
    who: 'manageBlog',
    summary: 'Who signed up for the letter, as CSV (RFC 4180)',
  },
  'blog.change': {
    method: 'PATCH',
    path: '/api/blog',
    who: 'manageBlog',
    summary: 'Change the blog’s title, tagline or first day of the week',
  },
  'categories.add': {
    method: 'POST',
    path: '/api/categories',
    who: 'manageBlog',
    summary: 'Add a category',
    status: 201,
  },
  'categories.change': {
    method: 'PATCH',
    path: '/api/categories/:id',
    who: 'manageBlog',
    summary: 'Rename or recolour a category, or merge it into another',
  },
} as const satisfies RoutesOf<SiteRoutes>;
