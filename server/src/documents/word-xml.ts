import type { ImportReport } from '@keyroster/core';

type Dropped = ImportReport['dropped'];

/** A run of text (ECMA-376 part 1, section 17.3.2.25); runs within a run's drawing are left to the reader. */
const RUN = /<w:r(?=[ >])[^>]*>(?:(?!<w:r[ >])[\s\S])*?<\/w:r>/g;
/** Is a property of a run switched on (section 17.17.4)? */
const has = (run: string, property: string): boolean =>
  new RegExp(`<w:${property}(?:\\s+w:val="(?:true|1|on|[a-zA-Z]+)")?\\s*/>`).test(run) &&
  !new RegExp(`<w:${property}\\s+w:val="(?:false|0|off|none)"`).test(run);

/**
 * A Word document's text without what is hidden in it, with tracked changes as runs in styles of their own, and counts
 * of what its reader would drop without a word: hidden text, underlines, styling, page breaks, headers and footers.
 */
export function readWordXml(
  xml: string,
  others: readonly { name: string; xml: string }[],
): { xml: string; dropped: Dropped; tracked: TrackedChange[] } {
  const dropped: Dropped = {};
  const drop = (kind: keyof Dropped, n = 1) => {
    if (n > 0) dropped[kind] = (dropped[kind] ?? 0) + n;
  };
  const shown = xml.replace(RUN, (run) => {
    if (has(run, 'vanish') || has(run, 'webHidden')) {
      if (/<w:t[ >]/.test(run)) drop('hidden text');
      return '';
    }
    if (has(run, 'u') || has(run, 'strike') || has(run, 'dstrike')) drop('other mark');
    if (/<w:(?:color|sz|highlight|rFonts|shd)\s/.test(run) && /<w:t[ >]/.test(run)) drop('styling');
    return run;
  });
  const plain = shown.replace(/<w:tblHeader\s+w:val="(?:false|0|off)"\s*\/>/g, '');
  drop('page break', count(shown, /<w:br\s[^>]*w:type="page"|<w:pageBreakBefore\s*\/>/g));
  drop(
    'header or footer',
    others.filter((o) => /^word\/(?:header|footer)\d*\.xml$/.test(o.name) && /<w:t[ >]/.test(o.xml)).length,
  );
  return { ...styleChanges(plain), dropped };
}

/** A tracked change (ECMA-376 part 1, sections 17.13.5.14 and 17.13.5.18): its runs have the style `style`. */
export interface TrackedChange {
  style: string;
  tag: 'ins' | 'del';
  by: string;
  /** To the minute, `2026-11-27T07:30Z`. */
  at: string;
  /** Changes of the same are one: words taken out, and those put in for them. */
  id: string;
}

const CHANGE = /<w:(ins|del)(?=[ >])([^>]*[^/])?>([\s\S]*?)<\/w:\1>/g;

/** Puts the runs of tracked changes into styles of their own, by which a reader can tell them. */
function styleChanges(xml: string): { xml: string; tracked: TrackedChange[] } {
  const tracked: TrackedChange[] = [];
  let end = -1;
  const styled = xml.replace(
    CHANGE,
    (whole, tag: 'ins' | 'del', head: string | undefined, inner: string, at: number) => {
      const attribute = (name: string) =>
        decodeXml(new RegExp(`w:${name}="([^"]*)"`).exec(head ?? '')?.[1] ?? '');
      const date = /^\d{4}-\d\d-\d\dT\d\d:\d\d/.exec(attribute('date'))?.[0] ?? '1970-01-01T00:00';
      const change = { tag, by: attribute('author'), at: `${date}Z` };
      const last = tracked.at(-1);
      const goesOn =
        last?.by === change.by &&
        last.at === change.at &&
        end >= 0 &&
        !/<w:t[ >]|<\/w:p>/.test(xml.slice(end, at));
      end = at + whole.length;
      const style = `KeyRosterChange${tracked.length + 1}`;
      tracked.push({ ...change, style, id: goesOn ? last.id : `w${tracked.length + 1}` });
      return inner
        .replace(/<(\/?)w:delText(?=[ >])/g, '<$1w:t')
        .replace(/<w:rStyle [^>]*\/>/g, '')
        .replace(/<w:r((?: [^>]*)?)>(\s*<w:rPr>)?/g, (_, attrs: string, properties?: string) =>
          properties
            ? `<w:r${attrs}><w:rPr><w:rStyle w:val="${style}"/>`
            : `<w:r${attrs}><w:rPr><w:rStyle w:val="${style}"/></w:rPr>`,
        );
    },
  );
  return { xml: styled, tracked };
}

const decodeXml = (text: string): string =>
  text.replace(
    /&(amp|lt|gt|quot|apos);/g,
    (_, name: string) => ({ amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" })[name]!,
  );

const count = (text: string, pattern: RegExp): number => text.match(pattern)?.length ?? 0;
