import type { BlogView, CategoryView } from '../accounts/types.js';
import type {
  AroundChosen,
  BlogChanges,
  BlogPlace,
  CategoryChanges,
  LookChosen,
  LookTried,
  NewBlog,
  NewCategory,
  NewsroomBlog,
  OnBlog,
  SiteChanges,
  SiteView,
} from './types.js';
import type { RoutesOf } from '../route.js';

/** What goes in and comes out of each route. */
export interface SiteRoutes {
  'blogs.list': { reply: NewsroomBlog[] };
  'blogs.add': { body: NewBlog; reply: NewsroomBlog };
  'blogs.place': { body: BlogPlace; reply: NewsroomBlog };
  'site.see': { reply: SiteView };
  'site.change': { body: SiteChanges; reply: SiteView };
  'site.look': { body: LookChosen; reply: SiteView };
  'site.around': { body: AroundChosen; reply: SiteView };
  'site.try': { body: LookTried; reply: { html: string } };
  'blog.change': { body: BlogChanges; reply: BlogView };
  'onBlog.see': { id: true; reply: OnBlog };
  'categories.add': { body: NewCategory; reply: CategoryView };
  'categories.change': { id: true; body: CategoryChanges; reply: CategoryView };
}

/** Who may call what, and where. */
export const SITE_ROUTES = {
  'blogs.list': {
    method: 'GET',
    path: '/api/blogs',
    who: 'manageBlog',
    summary: 'The blogs of the newsroom, and where each stands',
  },
  'blogs.add': {
    method: 'POST',
    path: '/api/blogs',
    who: 'manageBlog',
    summary: 'Create another blog; its creator is its managing editor',
    status: 201,
  },
  'blogs.place': {
    method: 'PUT',
    path: '/api/blog/place',
    who: 'manageBlog',
    saves: 'blog',
    summary: 'Put the blog at another address',
  },
  'site.see': {
    method: 'GET',
    path: '/api/site',
    who: 'manageBlog',
    summary: 'What was decided about the readers’ pages: settings, menu, side panels, look',
  },
  'site.change': {
    method: 'PATCH',
    path: '/api/site',
    who: 'manageBlog',
    saves: 'site',
    summary: 'Change settings, menu or side panels of the readers’ pages',
  },
  'site.look': {
    method: 'POST',
    path: '/api/site/look',
    who: 'manageBlog',
    saves: 'site',
    summary: 'Give the readers’ pages a look; the one before stays among the earlier ones',
  },
  'site.around': {
    method: 'PUT',
    path: '/api/site/around',
    who: 'manageBlog',
    saves: 'site',
    summary: 'Show the blog as a part of another site, in its colours and under its menu; or no more',
  },
  'site.try': {
    method: 'POST',
    path: '/api/site/try',
    who: 'manageBlog',
    summary: 'A page as a look would have it; changes nothing',
  },
  'blog.change': {
    method: 'PATCH',
    path: '/api/blog',
    who: 'manageBlog',
    saves: 'blog',
    summary: 'Change the blog’s title, tagline or first day of the week',
  },
  'onBlog.see': {
    method: 'GET',
    path: '/api/posts/:id/on-blog',
    who: 'enterNewsroom',
    summary: 'Of which serial a post is a part, and which pages were told that it links to them',
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
    saves: 'category',
    summary: 'Rename or recolour a category, or merge it into another',
  },
} as const satisfies RoutesOf<SiteRoutes>;
