import { EMPTY_BODY } from '@keyroster/core';
import { sharedFrom } from '@keyroster/core/texts';
import { SharedText } from './shared-text.js';

describe('a document that grows', () => {
  it('has room for what one post can hold, several times, and then none', () => {
    const text = new SharedText(
      1,
      { state: sharedFrom(EMPTY_BODY), stateId: 0, storedId: 0, updates: [] },
      () => undefined,
    );
    expect(text.hasRoomFor(new Uint8Array(16 * 1024 * 1024))).toBe(true);
    expect(text.hasRoomFor(new Uint8Array(48 * 1024 * 1024))).toBe(false);
    expect(text.hasRoomFor(new Uint8Array(100))).toBe(true);
    text.close();
  });
});
