import type {
  Crop,
  FileView,
  LighterQuery,
  MediaChanges,
  MediaPage,
  MediaQuery,
  MediaView,
  MediaWhole,
  Replaced,
  Replacement,
} from '../desk/types.js';
import type { RoutesOf } from '../route.js';

/** What goes in and comes out of each route. */
export interface MediaRoutes {
  'media.add': { file: true; reply: MediaView };
  'media.list': { query: MediaQuery; reply: MediaPage };
  'media.see': { id: true; reply: MediaWhole };
  'media.change': { id: true; body: MediaChanges; reply: MediaView };
  'media.weigh': { id: true; query: LighterQuery; reply: never };
  'media.lighten': { id: true; body: LighterQuery; reply: MediaView };
  'media.crop': { id: true; body: Crop; reply: MediaView };
  'media.replace': { id: true; body: Replacement; reply: Replaced };
  'files.add': { file: true; reply: FileView };
}

/** Who may call what, and where. */
export const MEDIA_ROUTES = {
  'media.add': {
    method: 'POST',
    path: '/api/media',
    who: 'addPictures',
    summary: 'Keep a picture',
    status: 201,
    file: true,
  },
  'media.list': {
    method: 'GET',
    path: '/api/media',
    who: 'enterNewsroom',
    summary: 'The library of pictures, a page at a time',
  },
  'media.see': {
    method: 'GET',
    path: '/api/media/:id',
    who: 'enterNewsroom',
    summary: 'One picture and where it is used',
  },
  'media.change': {
    method: 'PATCH',
    path: '/api/media/:id',
    who: 'addPictures',
    saves: 'picture',
    summary: 'Describe a picture, set its focus, bin it or take it back',
  },
  'media.weigh': {
    method: 'GET',
    path: '/api/media/:id/lighter',
    who: 'addPictures',
    summary: 'The picture made lighter, to look at; nothing is kept',
  },
  'media.lighten': {
    method: 'POST',
    path: '/api/media/:id/lighter',
    who: 'addPictures',
    summary: 'Keep a lighter picture beside the heavy one',
    status: 201,
  },
  'media.crop': {
    method: 'POST',
    path: '/api/media/:id/crops',
    who: 'addPictures',
    summary: 'Keep a part of a picture as a picture',
    status: 201,
  },
  'media.replace': {
    method: 'POST',
    path: '/api/media/:id/replacement',
    who: 'manageTags',
    summary: 'Put another picture in its place everywhere',
  },
  'files.add': {
    method: 'POST',
    path: '/api/files',
    who: 'addPictures',
    summary: 'Keep a video (MP4, WebM) or a captions file (WebVTT)',
    status: 201,
    file: true,
  },
} as const satisfies RoutesOf<MediaRoutes>;
