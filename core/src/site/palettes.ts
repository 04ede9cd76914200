/** Colours of the readers' pages, each as #rrggbb. */
export interface Colours {
  paper: string;
  /** Of what lies on the paper: head, boxes, tables. */
  sheet: string;
  ink: string;
  /** Of what is said beside the text. */
  soft: string;
  line: string;
  /** Of links and buttons. */
  act: string;
}

export interface ReaderPalette {
  label: string;
  light: Colours;
  dark: Colours;
}

const colours = (paper: string, sheet: string, ink: string, soft: string, line: string, act: string) => ({
  paper,
  sheet,
  ink,
  soft,
  line,
  act,
});

/**
 * Palettes that a look can wear. In each, in light and in dark, text in ink, soft and act stands on paper and on
 * sheet with a contrast of at least 4.5 (WCAG 2.2, success criterion 1.4.3).
 */
export const READER_PALETTES = {
  moss: {
    label: 'Moss',
    light: colours('#f4f5f0', '#fbfcf9', '#17211e', '#55625c', '#cfd6cd', '#17604f'),
    dark: colours('#141a18', '#1b2220', '#e8ebe4', '#a3aea8', '#36403b', '#7cc9b3'),
  },
  harbour: {
    label: 'Harbour',
    light: colours('#f1f4f7', '#fafcfd', '#15202b', '#526171', '#cbd5df', '#1d5580'),
    dark: colours('#12181f', '#19212a', '#e6ecf2', '#9fb0bf', '#33414f', '#86bfe8'),
  },
  clay: {
    label: 'Clay',
    light: colours('#f7f2ec', '#fdfaf6', '#2a1d16', '#6a574b', '#ddd0c3', '#95401f'),
    dark: colours('#1c1612', '#241d18', '#f0e7df', '#bba998', '#453a31', '#eda27c'),
  },
  plum: {
    label: 'Plum',
    light: colours('#f6f2f6', '#fcfafc', '#241828', '#645468', '#d8cdd9', '#753a7d'),
    dark: colours('#19141b', '#211b24', '#eee6ef', '#b4a5b7', '#41364a', '#d5a3dd'),
  },
  slate: {
    label: 'Slate',
    light: colours('#f3f3f2', '#fcfcfb', '#1b1b1a', '#5a5a57', '#d2d2ce', '#333330'),
    dark: colours('#151515', '#1d1d1c', '#ebebe8', '#aaaaa5', '#3c3c39', '#d8d8d2'),
  },
  straw: {
    label: 'Straw',
    light: colours('#faf6e6', '#fffdf4', '#2b2410', '#685d3a', '#ddd4b4', '#735600'),
    dark: colours('#1a1710', '#221e15', '#f1ead6', '#b8ad8d', '#423b28', '#e0bb5c'),
  },
} as const satisfies Record<string, ReaderPalette>;
export type PaletteKey = keyof typeof READER_PALETTES;
export const PALETTE_KEYS = Object.keys(READER_PALETTES) as PaletteKey[];
