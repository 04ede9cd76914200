import { Injectable, inject, signal } from '@angular/core';
import type { MediaQuery, MediaView } from '@keyroster/contract';
import { Subject } from 'rxjs';
import { inBlog } from '../api/blog-choice';
import { Api, sentenceOf } from '../api/api';

/** One file on its way into the library. */
export interface Upload {
  name: string;
  /** 0 to 1. */
  progress: number;
  state: 'waiting' | 'sending' | 'kept' | 'refused';
  sentence: string;
}

const AT_ONCE = 2;

/** The pictures of the library as a screen asks for them, a page at a time, and files on their way in. */
@Injectable()
export class LibraryService {
  private readonly api = inject(Api);
  readonly pictures = signal<MediaView[] | null>(null);
  readonly tags = signal<string[]>([]);
  readonly next = signal<number | null>(null);
  readonly error = signal('');
  readonly uploads = signal<Upload[]>([]);
  private query: MediaQuery = {};
  private readonly left = new Subject<void>();

  async find(query: MediaQuery): Promise<void> {
    this.query = query;
    this.left.next();
    await this.fetch(null);
  }

  async more(): Promise<void> {
    if (this.next() !== null) await this.fetch(this.next());
  }

  refresh(): Promise<void> {
    return this.find(this.query);
  }

  /** What was asked for before is called off. */
  private async fetch(before: number | null): Promise<void> {
    try {
      const page = await this.api.until(this.left, 'media.list', {
        query: { ...this.query, ...(before === null ? {} : { before }) },
      });
      if (!page) return;
      this.pictures.update((held) => (before === null ? page.pictures : [...(held ?? []), ...page.pictures]));
      this.tags.set(page.tags);
      this.next.set(page.next);
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  put(picture: MediaView): void {
    this.pictures.update((held) => held?.map((p) => (p.id === picture.id ? picture : p)) ?? null);
  }

  /** Sends many files, a few at once, and tells of each how far it is. Returns those that were kept. */
  async send(files: readonly File[]): Promise<MediaView[]> {
    const queue = files.map((file) => ({
      file,
      upload: { name: file.name || 'pasted picture', progress: 0, state: 'waiting', sentence: '' } as Upload,
    }));
    this.uploads.update((held) => [
      ...held.filter((u) => u.state === 'sending' || u.state === 'waiting'),
      ...queue.map((q) => q.upload),
    ]);
    const tell = (upload: Upload, change: Partial<Upload>) => {
      Object.assign(upload, change);
      this.uploads.update((held) => [...held]);
    };
    const kept: MediaView[] = [];
    const work = async (): Promise<void> => {
      for (let next = queue.shift(); next; next = queue.shift()) {
        const { file, upload } = next;
        tell(upload, { state: 'sending' });
        try {
          kept.push(await this.sendOne(file, (progress) => tell(upload, { progress })));
          tell(upload, { state: 'kept', progress: 1 });
        } catch (error) {
          tell(upload, {
            state: 'refused',
            sentence: error instanceof Error ? error.message : 'It was not kept.',
          });
        }
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, work));
    await this.refresh();
    return kept;
  }

  /** By XMLHttpRequest, since fetch, which the other calls are made by, does not tell how much of a body was sent. */
  private sendOne(file: File, progress: (share: number) => void): Promise<MediaView> {
    return new Promise((done, failed) => {
      const request = new XMLHttpRequest();
      request.open('POST', inBlog('/api/media'));
      request.responseType = 'json';
      request.upload.onprogress = (e) => {
        if (e.lengthComputable) progress((e.loaded / e.total) * 0.95);
      };
      request.onload = () => {
        const answer = request.response as (MediaView & { detail?: string }) | null;
        if (request.status === 201 && answer) done(answer);
        else failed(new Error(answer?.detail ?? 'It was not kept.'));
      };
      request.onerror = () =>
        failed(new Error('The newsroom cannot be reached just now. Try again in a moment.'));
      const form = new FormData();
      form.append('file', file);
      request.send(form);
    });
  }
}
