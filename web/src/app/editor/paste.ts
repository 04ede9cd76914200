import {
  importHtml,
  placePictures,
  formatReport,
  type BodyNode,
  type HtmlElement,
  type HtmlNode,
} from '@keyroster/core';

/**
 * The browser's parse of clipboard HTML as the plain tree that core reads. The parsed document is inert:
 * nothing in it loads or runs.
 */
export function treeOf(html: string): HtmlElement {
  const parsed = new DOMParser().parseFromString(html, 'text/html');
  const convert = (node: Node, depth: number): HtmlNode[] => {
    if (node.nodeType === Node.TEXT_NODE) return [node.nodeValue ?? ''];
    // Windows marks the copied part with comments of its own; they are nobody's words.
    if (node.nodeType === Node.COMMENT_NODE)
      return /^(Start|End)Fragment$/.test(node.nodeValue ?? '')
        ? []
        : [{ tag: '#comment', attrs: {}, children: [] }];
    if (!(node instanceof Element)) return [];
    if (depth > 400) return [node.textContent ?? ''];
    return [
      {
        tag: node.tagName.toLowerCase(),
        attrs: Object.fromEntries([...node.attributes].map((a) => [a.name.toLowerCase(), a.value])),
        children: [...node.childNodes].flatMap((c) => convert(c, depth + 1)),
      },
    ];
  };
  return { tag: 'body', attrs: {}, children: [...parsed.body.childNodes].flatMap((c) => convert(c, 0)) };
}

/**
 * What came from the clipboard, with its pictures stored and a sentence about what was kept and dropped. A
 * title stays in the text as a heading.
 */
export async function readPaste(
  html: string,
  keep: (file: File) => Promise<number>,
  files: readonly File[] = [],
): Promise<{ content: BodyNode[]; sentence: string }> {
  const tree = treeOf(html);
  const beside = takeBeside(tree, files);
  const read = importHtml(tree, { part: true });
  const ids = new Map<number, number>();
  let lost = 0;
  for (const picture of read.pictures) {
    try {
      const blob = beside.get(picture.dataUri) ?? blobOf(picture.dataUri);
      ids.set(picture.placeholder, await keep(new File([blob], 'pasted', { type: blob.type })));
    } catch {
      lost++;
    }
  }
  const body = placePictures(read.body, ids);
  const content = [
    ...(read.title
      ? [{ type: 'heading', attrs: { level: 2 }, content: [{ type: 'text', text: read.title }] }]
      : []),
    ...(body.content ?? []),
  ];
  return {
    content,
    sentence:
      formatReport(read.report) +
      (lost > 0 ? ` ${lost === 1 ? 'One picture' : `${lost} pictures`} could not be kept.` : ''),
  };
}

/**
 * Word processors name pictures by addresses on their own machine and put the pictures beside the HTML. Where
 * there are as many of the one as of the other, they belong together, in order: each gets an address that
 * stands for its file.
 */
function takeBeside(tree: HtmlElement, files: readonly File[]): Map<string, File> {
  const found: HtmlElement[] = [];
  const visit = (node: HtmlNode): void => {
    if (typeof node === 'string') return;
    if (node.tag === 'img' && !/^(data:image|https?:|\/media\/)/i.test(node.attrs['src'] ?? ''))
      found.push(node);
    node.children.forEach(visit);
  };
  visit(tree);
  const beside = new Map<string, File>();
  if (found.length === 0 || found.length !== files.length) return beside;
  found.forEach((img, i) => {
    // Unlike each other, and in the form that carried pictures have: base64 of the place in the list.
    const stand = `data:image/png;base64,${btoa(`beside-${i}`)}`;
    (img.attrs as Record<string, string>)['src'] = stand;
    beside.set(stand, files[i]!);
  });
  return beside;
}

/** Decoded here rather than fetched: the content policy lets the newsroom connect to its own server only. */
function blobOf(dataUri: string): Blob {
  const comma = dataUri.indexOf(',');
  return new Blob([Uint8Array.from(atob(dataUri.slice(comma + 1)), (c) => c.charCodeAt(0))], {
    type: dataUri.slice(5, dataUri.indexOf(';')),
  });
}
