import { fileURLToPath } from 'node:url';
import { Eta } from 'eta';
import type { Page } from './cache.js';
import { pictureHtml, readingMinutes, formatDate } from '@keyroster/core';

export const eta = new Eta({
  views: fileURLToPath(new URL('../../templates', import.meta.url)),
  cache: true,
  autoEscape: true,
});

export const HTML = 'text/html; charset=utf-8';

export const helpers = {
  pictureHtml,
  formatDate: (local: string) => `${formatDate(local)} ${local.slice(0, 4)}`,
  readingMinutes,
};

/** A page that says, for good, where another one is. */
export const movedTo = (location: string): Page => ({
  status: 301,
  type: HTML,
  body: `<p>This page is at <a href="${location}">${location}</a> now.</p>`,
  tags: ['lists'],
  location,
});
