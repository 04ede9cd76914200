import { AlignmentType, type IPropertiesOptions } from 'docx';

/** The processor's own styles, by which a document is known again when it is brought back. */
export const STYLES = {
  default: {
    document: { run: { font: 'Georgia', size: 23 }, paragraph: { spacing: { after: 140, line: 290 } } },
  },
  characterStyles: [
    { id: 'CodeRun', name: 'Code', basedOn: 'DefaultParagraphFont', run: { font: 'Courier New' } },
  ],
  paragraphStyles: [
    {
      id: 'CodeBlock',
      name: 'Code Block',
      basedOn: 'Normal',
      run: { font: 'Courier New', size: 19 },
      paragraph: { spacing: { after: 0 } },
    },
    {
      id: 'Divider',
      name: 'Divider',
      basedOn: 'Normal',
      paragraph: { alignment: AlignmentType.CENTER },
    },
    {
      id: 'Quote',
      name: 'Quote',
      basedOn: 'Normal',
      run: { italics: true },
      paragraph: { indent: { left: 500 } },
    },
    {
      id: 'IntenseQuote',
      name: 'Intense Quote',
      basedOn: 'Normal',
      run: { italics: true, size: 30 },
      paragraph: { alignment: AlignmentType.CENTER },
    },
    {
      id: 'Subtitle',
      name: 'Subtitle',
      basedOn: 'Normal',
      run: { italics: true, color: '55625C', size: 27 },
    },
  ],
} satisfies IPropertiesOptions['styles'];
