/** Pages of the blog that a menu can lead to, beside categories and posts. */
export const MENU_PAGES = ['front', 'start', 'search', 'writers', 'archive'] as const;
export type MenuPage = (typeof MENU_PAGES)[number];

/** An entry of the menu. Without a label of its own it is called as what it leads to. */
export type MenuEntry =
  | { kind: 'page'; page: MenuPage; label: string }
  | { kind: 'category'; id: number; label: string }
  | { kind: 'post'; id: number; label: string }
  | { kind: 'address'; url: string; label: string };

export const MAX_MENU = 30;

/** The blog as a menu knows it. */
export interface MenuBlog {
  /** Its address, without a slash at the end. */
  home: string;
  categories: readonly { id: number; name: string; slug: string }[];
  /** Published posts that entries name. */
  posts: ReadonlyMap<number, { title: string; path: string }>;
  /** Is there a page for newcomers? */
  hasStart: boolean;
}

export interface MenuLink {
  label: string;
  /** From a slash on, within the blog; or a whole address. */
  href: string;
  /** Of the categories: its slug, by which a page knows its own entry. */
  category: string | null;
}

const PAGES: Record<MenuPage, { label: string; href: string }> = {
  front: { label: 'Newest', href: '/' },
  start: { label: 'Start here', href: '/start' },
  search: { label: 'Search', href: '/search' },
  writers: { label: 'Writers', href: '/writers' },
  archive: { label: 'All months', href: '/archive' },
};
export const menuPageLabel = (page: MenuPage): string => PAGES[page].label;

/** Where an entry leads; null where what it leads to is not there. */
export function linkOf(entry: MenuEntry, blog: MenuBlog): MenuLink | null {
  const label = (usual: string) => entry.label || usual;
  switch (entry.kind) {
    case 'page': {
      if (entry.page === 'start' && !blog.hasStart) return null;
      const page = PAGES[entry.page];
      return { label: label(page.label), href: page.href, category: null };
    }
    case 'category': {
      const category = blog.categories.find((c) => c.id === entry.id);
      return category
        ? { label: label(category.name), href: `/category/${category.slug}`, category: category.slug }
        : null;
    }
    case 'post': {
      const post = blog.posts.get(entry.id);
      return post ? { label: label(post.title), href: post.path, category: null } : null;
    }
    case 'address':
      return { label: label(entry.url), href: entry.url, category: null };
  }
}

/** The menu of a blog whose editor has not made one: its categories. */
export const usualMenu = (categories: readonly { id: number }[]): MenuEntry[] =>
  categories.map(({ id }) => ({ kind: 'category', id, label: '' }));

/** What is wrong with a menu, a sentence each. Common practice: the blog can be reached from the site's menu. */
export function menuWarnings(menu: readonly MenuEntry[], blog: MenuBlog): string[] {
  const warnings: string[] = [];
  const toBlog = (entry: MenuEntry) =>
    (entry.kind === 'page' && entry.page === 'front') ||
    (entry.kind === 'address' && entry.url.replace(/\/+$/, '') === blog.home);
  if (!menu.some(toBlog))
    warnings.push('The blog itself is in no menu: readers come to its front page by its name alone.');
  const dead = menu.filter((entry) => linkOf(entry, blog) === null);
  if (dead.length > 0)
    warnings.push(
      `${dead.length === 1 ? 'One entry leads' : `${dead.length} entries lead`} to what readers cannot see; ` +
        'it is left out until they can.',
    );
  return warnings;
}
