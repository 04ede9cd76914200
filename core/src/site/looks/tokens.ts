/** What a look fixes. How the head of a post is built is a template of the same name. */
export interface LookTokens {
  label: string;
  /** What it is good for, in a sentence. */
  about: string;
  titles: 'serif' | 'sans';
  text: 'serif' | 'sans';
  /** Of the blog's name and of titles. */
  weight: number;
  /** Of a post's title, in rem, on a wide screen. */
  titleSize: number;
  /** The line under the head of the page. */
  rule: string;
  /** Of pictures and boxes, in px. */
  radius: number;
  /** Where the blog's name stands. */
  head: 'start' | 'center';
  /** How posts stand in a list: title beside picture, picture above title in columns, or titles alone. */
  list: 'beside' | 'columns' | 'titles';
}
