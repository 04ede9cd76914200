import { fc } from '../testing.js';
import { findPassage, passageAt } from './passage.js';

describe('passages', () => {
  const text = 'Open the paddle. Wait. Open the paddle again, slowly. Then open the gate.';
  it('finds the right one of several equal wordings by what stands around it', () => {
    const second = passageAt(text, text.lastIndexOf('the paddle'), text.lastIndexOf('the paddle') + 10);
    expect(findPassage(`A new first line. ${text}`, second)?.from).toBe(18 + text.lastIndexOf('the paddle'));
  });
  it('says so when the words are gone', () => {
    expect(findPassage('Nothing here', passageAt(text, 0, 8))).toBeNull();
    expect(findPassage(text, { exact: '', prefix: '', suffix: '' })).toBeNull();
  });
  it('finds every passage of an unchanged text where it was, or words just like it (property)', () => {
    fc.assert(
      fc.property(fc.string({ minLength: 2, maxLength: 120 }), fc.nat(), fc.nat(), (t, a, b) => {
        const from = a % t.length;
        const to = from + 1 + (b % (t.length - from));
        const found = findPassage(t, passageAt(t, from, to));
        expect(t.slice(found!.from, found!.to)).toBe(t.slice(from, to));
        expect(passageAt(t, found!.from, found!.to)).toEqual(passageAt(t, from, to));
      }),
    );
  });
});
