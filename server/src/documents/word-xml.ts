import type { ImportReport } from '@keyroster/core';

type Dropped = ImportReport['dropped'];

/** A run of text (ECMA-376 part 1, section 17.3.2.25); runs within a run's drawing are left to the reader. */
const RUN = /<w:r(?=[ >])[^>]*>(?:(?!<w:r[ >])[\s\S])*?<\/w:r>/g;
/** Is a property of a run switched on (section 17.17.4)? */
const has = (run: string, property: string): boolean =>
  new RegExp(`<w:${property}(?:\\s+w:val="(?:true|1|on|[a-zA-Z]+)")?\\s*/>`).test(run) &&
  !new RegExp(`<w:${property}\\s+w:val="(?:false|0|off|none)"`).test(run);

/**
 * A Word document's text without what is hidden in it, and counts of what its reader would drop without a word:
 * hidden and deleted text, underlines, styling, page breaks, headers and footers.
 */
export function readWordXml(
  xml: string,
  others: readonly { name: string; xml: string }[],
): { xml: string; dropped: Dropped; insertions: number } {
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
  drop('deleted text', count(shown, /<w:del[ >]/g));
  drop('page break', count(shown, /<w:br\s[^>]*w:type="page"|<w:pageBreakBefore\s*\/>/g));
  drop(
    'header or footer',
    others.filter((o) => /^word\/(?:header|footer)\d*\.xml$/.test(o.name) && /<w:t[ >]/.test(o.xml)).length,
  );
  return { xml: plain, dropped, insertions: count(shown, /<w:ins[ >]/g) };
}

const count = (text: string, pattern: RegExp): number => text.match(pattern)?.length ?? 0;
