import { endpointOf, linksTo, titleOf } from './pages.js';

const PAGE = 'https://aaron.example/post/one?page=2';
const html = (text: string) => ({ url: PAGE, link: null, html: text });
const header = (link: string, text = '') => ({ url: PAGE, link, html: text });

describe('where a page takes mentions', () => {
  it('finds it as the examples of the Recommendation have it', () => {
    // W3C Recommendation Webmention, section 3.1.2, the three ways of its example 2.
    const at = 'http://aaronpk.example/webmention-endpoint';
    expect(endpointOf(header(`<${at}>; rel="webmention"`))).toBe(at);
    expect(endpointOf(html(`<html><head><link href="${at}" rel="webmention" /></head></html>`))).toBe(at);
    expect(endpointOf(html(`<body><a href="${at}" rel="webmention">webmention</a></body>`))).toBe(at);
  });

  // The kinds of discovery that the Recommendation's implementation report asks about; from memory.
  it.each([
    ['a relative header', header('</endpoint>; rel=webmention'), 'https://aaron.example/endpoint'],
    [
      'a relative link',
      html('<link rel=webmention href="../endpoint?x=1">'),
      'https://aaron.example/endpoint?x=1',
    ],
    ['a header in other letters', header('<https://e.example/w>; REL=webmention'), 'https://e.example/w'],
    [
      'several relations at once',
      html('<link rel="alternate webmention" href="https://e.example/w">'),
      'https://e.example/w',
    ],
    [
      'a header with several relations',
      header('<https://e.example/w>; rel="webmention something"'),
      'https://e.example/w',
    ],
    [
      'several headers in one',
      header('<https://e.example/o>; rel="other", <https://e.example/w>; rel="webmention"'),
      'https://e.example/w',
    ],
    [
      'the header before the text',
      header('<https://e.example/w>; rel="webmention"', '<link rel=webmention href=/x>'),
      'https://e.example/w',
    ],
    [
      'the first in the text',
      html('<a rel=webmention href="/first">x</a><link rel=webmention href="/second">'),
      'https://aaron.example/first',
    ],
    ['an empty address, which is the page', html('<link rel="webmention" href="">'), PAGE],
    [
      'no address at all, and the next one',
      html('<link rel="webmention"><a rel="webmention" href="/w">x</a>'),
      'https://aaron.example/w',
    ],
  ])('%s', (_, page, at) => {
    expect(endpointOf(page)).toBe(at);
  });

  it.each([
    ['in a comment', html('<!-- <link rel="webmention" href="/w"> -->')],
    ['escaped in the text', html('&lt;a rel="webmention" href="/w">')],
    ['another relation', html('<link rel="not-webmention webmentions" href="/w">')],
    ['a broken header', header('<<<; rel=')],
    ['nothing', html('')],
  ])('takes nothing %s', (_, page) => {
    expect(endpointOf(page)).toBeNull();
  });
});

describe('whether a page links to another', () => {
  const target = 'https://lock.example/frost';
  it.each([
    [`<a href="${target}">x</a>`, true],
    [`<p><img src="${target}"></p>`, true],
    [`<a href="https://lock.example:443/frost">x</a>`, true],
    [`<p>${target}</p>`, false],
    [`<!-- <a href="${target}"> -->`, false],
    [`<a href="${target}-two">x</a>`, false],
    [`<a href="http://lock.example/frost">x</a>`, false],
    [`<a href="javascript:void('${target}')">x</a>`, false],
  ])('%s: %s', (text, links) => {
    expect(linksTo(text, 'https://other.example/page', target)).toBe(links);
  });
  it('however deep it is nested, and however long it is', () => {
    const deep = `${'<div>'.repeat(5_000)}<a href="${target}">x</a>`;
    expect(linksTo(deep, 'https://other.example/', target)).toBe(true);
    expect(linksTo(`${'x'.repeat(500_000)}<a href="${target}">x</a>`, 'https://other.example/', target)).toBe(
      false,
    );
  });
  it('by what it calls itself', () => {
    expect(titleOf('<title> One\n two </title><meta property="og:title" content="Better">')).toBe('Better');
    expect(titleOf('<title> One\n two </title>')).toBe('One two');
    expect(titleOf(`<title>${'x'.repeat(900)}</title>`).length).toBe(200);
    expect(titleOf('')).toBe('');
  });
});
