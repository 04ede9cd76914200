import type { BlogPosting, Person, SearchAction, WebSite, WithContext } from 'schema-dts';
import type { ReaderBlog } from './reader-blog.js';
import type { RenderedPost } from './readers.js';

/** The origin of a blog's address: what pictures and files stand under. */
export const originOf = (home: string): string => new URL(home).origin;

/** As text that nothing in it can end the element it stands in (HTML, section 4.12.1.3). */
export const asScript = (data: object): string => JSON.stringify(data).replaceAll('<', '\\u003c');

export const schemaPerson = (
  blog: Pick<ReaderBlog, 'home'>,
  { name, slug }: { name: string; slug: string | null },
): Extract<Person, { '@type': 'Person' }> => ({
  '@type': 'Person',
  name,
  ...(slug === null ? {} : { url: `${blog.home}/writer/${slug}` }),
});

/** A post as search engines read it: a BlogPosting of schema.org. Its types are made from that vocabulary. */
export function schemaPost(
  blog: ReaderBlog,
  post: RenderedPost,
  { url, modified, image }: { url: string; modified: string; image: string | null },
): WithContext<BlogPosting> {
  return {
    '@context': 'https://schema.org',
    '@type': 'BlogPosting',
    '@id': url,
    url,
    mainEntityOfPage: url,
    headline: post.title,
    ...(post.excerpt ? { description: post.excerpt } : {}),
    ...(image === null ? {} : { image }),
    datePublished: post.runAt,
    dateModified: modified,
    wordCount: post.words,
    inLanguage: 'en',
    author: post.writers.map((w) => schemaPerson(blog, w)),
    ...(post.category ? { articleSection: post.category } : {}),
    ...(post.tags.length > 0 ? { keywords: post.tags.map((t) => t.name) } : {}),
    isPartOf: { '@type': 'Blog', name: blog.title, url: `${blog.home}/` },
    publisher: { '@type': 'Organization', name: blog.title, url: `${blog.home}/` },
  };
}

/** The blog, with how it is searched (schema.org SearchAction). */
export const schemaBlog = (blog: ReaderBlog): WithContext<WebSite> => ({
  '@context': 'https://schema.org',
  '@type': 'WebSite',
  name: blog.title,
  url: `${blog.home}/`,
  ...(blog.tagline ? { description: blog.tagline } : {}),
  potentialAction: {
    '@type': 'SearchAction',
    target: `${blog.home}/search?q={search_term_string}`,
    'query-input': 'required name=search_term_string',
  } as SearchAction,
});
