import type { FileTexts, ImportReport, ImportedText } from '@keyroster/core';

/** A document as it was read: text, pictures as data, and what was kept and dropped. */
export interface ReadText extends Omit<ImportedText, 'report'> {
  report: ImportReport;
  excerpt: string | null;
  /** Other texts of the front matter. */
  texts?: FileTexts;
}
