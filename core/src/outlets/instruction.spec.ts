import {
  USUAL_LIMITS,
  graphemesOf,
  instructionRemarks,
  readInstruction,
  formatInstruction,
  wholeSentences,
} from '../index.js';
import { made } from './testing.js';

describe('instructions', () => {
  it('are read in their measurable parts; the rest is left to the person', () => {
    expect(
      readInstruction(
        'Warm, for new owners, at most 120 characters, without link, stress the corkscrew tool',
      ),
    ).toMatchObject({
      tone: 'warm',
      audience: 'new owners',
      max: { n: 120, unit: 'characters' },
      link: false,
      stress: ['corkscrew tool'],
      rest: [],
    });
    expect(readInstruction('In two sentences. No hashtags; formal tone')).toMatchObject({
      max: { n: 2, unit: 'sentences' },
      tags: false,
      tone: 'formal',
      rest: [],
    });
    expect(readInstruction('about 200 characters')).toMatchObject({
      max: { n: 200, unit: 'characters' },
      stress: [],
    });
    expect(readInstruction('warm, at most 1,200 characters, about the drain plug')).toMatchObject({
      max: { n: 1200, unit: 'characters' },
      tone: 'warm',
      stress: ['drain plug'],
    });
    for (const text of ['not playful', 'keep the light on', 'never be formal', 'kind of a list'])
      expect([text, readInstruction(text)]).toEqual([
        text,
        expect.objectContaining({ tone: 'plain', rest: [text] }),
      ]);
    for (const [text, tone] of [
      ['be warm', 'warm'],
      ['in a formal tone', 'formal'],
      ['Keep it playful, please', 'playful'],
      ['warm in two sentences', 'warm'],
    ])
      expect(readInstruction(text!).tone).toBe(tone);
    expect(readInstruction('write a letter to members').max).toBeNull();
    expect(readInstruction('in a sentence').max).toEqual({ n: 1, unit: 'sentences' });
    expect(readInstruction('Sound like a gull').rest).toEqual(['Sound like a gull']);
    expect(readInstruction('')).toMatchObject({ max: null, link: null, tone: 'plain', rest: [] });
    expect(formatInstruction(readInstruction('40 words, with a link, about drips'))).toBe(
      'at most 40 words, with a link, stressing drips',
    );
  });

  it('that contradict the outlet’s limits are named', () => {
    expect(
      instructionRemarks(
        readInstruction('in 500 characters, with tags, with link'),
        { ...USUAL_LIMITS['short-post network'], links: false, tags: 0 },
        'Towline',
      ),
    ).toEqual([
      'The instruction asks for 500 characters, and Towline takes 300; it is fitted to 300.',
      'The instruction asks for a link, and Towline makes none of addresses.',
      'The instruction asks for tags, and Towline shows none.',
    ]);
  });

  it('are obeyed', () => {
    const short = made('short post', { instruction: 'at most 120 characters, without link, no tags' });
    expect(graphemesOf(short.parts[0]!).length).toBeLessThanOrEqual(120);
    expect(short.parts[0]).not.toMatch(/https|#/);
    expect(
      wholeSentences(
        made('professional post', { instruction: 'one sentence, without link, no tags' }).parts[0]!.split(
          '\n',
        )[0]!,
      ),
    ).toHaveLength(1);
    expect(made('short post', { instruction: 'stress the corkscrew tool' }).parts[0]).toContain('corkscrew');
    expect(made('short post', { instruction: 'for new owners' }).parts[0]).toMatch(
      /^For new owners:\n\n\p{Lu}/u,
    );
    expect(made('short post', { instruction: 'mention otters' }).remarks).toEqual([
      'Nothing in the post that fits here speaks of “otters”.',
    ]);
    expect(made('newsletter letter', { instruction: 'formal' }).parts[0]).toMatch(
      /^Dear reader,[\s\S]*With kind regards,\nTobias Orme$/,
    );
  });
});
