import { expect } from '@playwright/test';
import { comeIn, test } from './people.js';

test('a campaign is begun, gathers a post, says what is missing, and keeps its outlets', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/planner/campaigns');
  await expect(page.getByRole('button', { name: /^Winter stoppages/ })).toContainText('missing');
  const name = `Spring paint ${test.info().retry}`;
  await page.getByLabel('Name of a new campaign').fill(name);
  await page.getByLabel('Name of a new campaign').press('Enter');
  await expect(page.getByRole('heading', { level: 2, name })).toBeVisible();
  const lacks = page.getByRole('list', { name: 'What is missing' });
  await expect(lacks).toHaveText('No post is in it yet.');
  const posts = (await (await page.request.get('/api/posts?stage=published&limit=5')).json()) as {
    posts: { id: number; title: string }[];
  };
  const { id, title } = posts.posts.at(-1)!;
  await page.getByLabel('Add a post').fill(title);
  await page.getByRole('option', { name: title }).first().click();
  await expect(page.getByRole('link', { name: title })).toBeVisible();
  const before = (await lacks.count()) > 0 ? await lacks.getByRole('listitem').allTextContents() : [];
  await page.getByRole('checkbox', { name: 'Porthole' }).check();
  await page.getByRole('checkbox', { name: 'Chandler’s Row' }).check();
  await page.getByRole('button', { name: 'Save', exact: true }).press('Enter');
  await expect(page.getByText('Saved.')).toBeVisible();
  await expect.poll(() => lacks.getByRole('listitem').allTextContents()).not.toEqual(before);
  await page.reload();
  await expect(page.getByRole('checkbox', { name: 'Porthole' })).toBeChecked();
  await expect(page.getByRole('link', { name: title })).toBeVisible();
  // The post names it, wherever it is looked at.
  const post = (await (await page.request.get(`/api/posts/${id}`)).json()) as { campaign: string };
  expect(post.campaign).toBe(name);
  await page.getByRole('button', { name: 'Delete the campaign' }).click();
  const sure = page.getByRole('alertdialog', { name: new RegExp(`Delete “${name}”`) });
  await sure.getByRole('button', { name: 'Delete the campaign' }).click();
  await expect(page.getByText(`“${name}” is deleted`)).toBeVisible();
  await expect(page.getByRole('button', { name: new RegExp(`^${name}`) })).toBeHidden();
  const freed = (await (await page.request.get(`/api/posts/${id}`)).json()) as { campaign: string };
  expect(freed.campaign).toBe('');
});
