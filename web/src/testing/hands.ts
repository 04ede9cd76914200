import type { HarnessLoader } from '@angular/cdk/testing';
import { MatButtonHarness } from '@angular/material/button/testing';
import { MatInputHarness } from '@angular/material/input/testing';
import { MatSelectHarness } from '@angular/material/select/testing';

const labelOf = (id: string | null) =>
  id === null ? '' : (document.querySelector(`label[for="${id}"]`)?.textContent?.trim() ?? '');

/** The line of text with this label. */
export async function line(loader: HarnessLoader, label: string): Promise<MatInputHarness> {
  for (const input of await loader.getAllHarnesses(MatInputHarness))
    if (labelOf(await input.getId()) === label) return input;
  throw new Error(`There is no field “${label}”.`);
}

/** Types into the line with this label and leaves it. */
export async function type(loader: HarnessLoader, label: string, text: string): Promise<void> {
  const input = await line(loader, label);
  await input.setValue(text);
  // Browsers tell that a field was changed when it is left.
  await (await input.host()).dispatchEvent('change');
  await input.blur();
}

/** Chooses in the list with this label. */
export async function choose(loader: HarnessLoader, label: string, option: string): Promise<void> {
  const list = await loader.getHarness(MatSelectHarness.with({ selector: `[aria-label="${label}"]` }));
  await list.clickOptions({ text: option });
}

export async function press(loader: HarnessLoader, text: string | RegExp): Promise<void> {
  await (await loader.getHarness(MatButtonHarness.with({ text }))).click();
}

/** Waits until no dialog is open any more: what asked with it goes on only then. */
export async function dialogGone(): Promise<void> {
  while (document.querySelector('mat-dialog-container')) await new Promise((done) => setTimeout(done, 5));
  await new Promise((done) => setTimeout(done));
}
