/** The newsroom's arithmetic: pure, synchronous, with now and zone as arguments. */
export * from './address/address.js';
export * from './body/html.js';
export * from './body/schema.js';
export * from './body/text.js';
export * from './bringin/report.js';
export * from './bringin/to-body.js';
export { isElement, textOf, type HtmlElement, type HtmlNode } from './bringin/tree.js';
export * from './passage/passage.js';
export * from './people/people.js';
export * from './planning/warnings.js';
export * from './runway/runway.js';
export * from './slots/slots.js';
export * from './stages/may.js';
export * from './stages/stages.js';
export * from './time/say.js';
export * from './time/week.js';
export * from './time/zone.js';
export * from './today/needs.js';
