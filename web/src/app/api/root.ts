import { Pipe, type PipeTransform } from '@angular/core';

/** The path under which a proxy has the newsroom, by the base of its page; empty at the top of a host. */
export const rootOf = (base: string): string => new URL('..', base).pathname.replace(/\/$/, '');
const ROOT = rootOf(document.baseURI);

/** An address of the newsroom, as the browser has to ask for it. */
export const atRoot = (address: string): string => (address.startsWith('/') ? ROOT + address : address);

/** The same in templates: `[src]="'/media/12' | atRoot"`. */
@Pipe({ name: 'atRoot' })
export class AtRoot implements PipeTransform {
  transform(address: string): string {
    return atRoot(address);
  }
}
