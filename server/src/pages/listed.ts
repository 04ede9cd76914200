import type { PictureSource } from '@keyroster/core';

export interface WriterRow {
  id: number;
  name: string;
  slug: string;
  biography: string;
  links: { label: string; url: string }[];
  pictureId: number | null;
}

/** What a list of posts is of; its pages and its feeds are made from the same. */
export interface Listing {
  /** Its path on the blog; empty for the front page. */
  base: string;
  /** What stands over it; null on the front page. */
  heading: string | null;
  /** Its description for search engines. */
  about: string;
  filter: {
    categorySlug?: string;
    tagId?: number;
    writerId?: number;
    from?: string;
    before?: string;
  };
  /** Shown by search engines. */
  inSearch: boolean;
  /** The slug of the category, by which the menu knows its entry. */
  category?: string;
  writer?: WriterRow & { picture: PictureSource | null };
  linkedData?: object;
}
