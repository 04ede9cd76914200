/** The demo blog as data; `load.ts` puts it into a database. */
export { CATEGORIES, DEMO_PASSWORD, PEOPLE } from './people.js';
export { PICTURES, pictureAlt, pictureSvg } from './pictures.js';
export { readPitches, readTexts } from './texts.js';
export { loadLarge } from './large.js';
