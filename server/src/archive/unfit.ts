/** A batch that cannot be applied; the sentence is kept with it. */
export class Unfit extends Error {}
