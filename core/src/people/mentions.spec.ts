import fc from 'fast-check';
import { callingAt, mentionsIn } from './mentions.js';

const people = ['Ann Lee', 'Ann Leeward', 'Bo', 'Chloë Ní Dhomhnaill', 'Dee Ross'].map((name, id) => ({
  id,
  name,
}));
const called = (text: string) => mentionsIn(text, people).map((m) => m.person.name);

describe('whom a note mentions', () => {
  it.each([
    ['@Bo, look', ['Bo']],
    ['Look, @dee ross and (@Bo)!', ['Dee Ross', 'Bo']],
    ['@Ann Leeward', ['Ann Leeward']],
    ['@Ann Lee.', ['Ann Lee']],
    ['@chloë: is it so?', ['Chloë Ní Dhomhnaill']],
    ['@Dee’s pictures', ['Dee Ross']],
  ])('%s', (text, names) => expect(called(text)).toEqual(names));

  it.each([
    ['a first name that two people have', '@Ann, look'],
    ['an address', 'write to me@bo.example or me@Bo'],
    ['a longer word', '@Boat and @Bob'],
    ['no name', '@ @@ Bo'],
  ])('nobody by %s', (_, text) => expect(called(text)).toEqual([]));

  it('says where the name stands, however the text around it is', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), fc.string({ unit: 'binary' }), (before, after) => {
        const text = `${before} @Dee Ross ${after}`;
        const hit = mentionsIn(text, people).find((m) => m.from === before.length + 1);
        expect(text.slice(hit!.from, hit!.to)).toBe('@Dee Ross');
      }),
    );
  });
});

describe('a name that is being typed', () => {
  it.each([
    ['ask @', ''],
    ['ask @De', 'De'],
    ['@Dee R', 'Dee R'],
    ['me@de', null],
    ['ask @ De', null],
    ['ask', null],
    ['@Dee\n', null],
  ])('%j', (text, calling) => expect(callingAt(text)).toBe(calling));
});
