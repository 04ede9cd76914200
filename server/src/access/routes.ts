import type { Handlers } from '../http/handlers.js';
import { changeMember, listMembers, removeMember } from './members.js';
import { addPreviewLink, listPreviewLinks, removePreviewLink } from './preview-links.js';

export const accessHandlers: Handlers = {
  'previewLinks.list': ({ trx, person, id }) => listPreviewLinks(trx, person, id),
  'previewLinks.add': ({ trx, person, id, body, services }) =>
    addPreviewLink(trx, person, id, body, services.settings.publicUrl),
  'previewLinks.remove': ({ trx, person, id }) => removePreviewLink(trx, person, id),
  'members.list': ({ trx, person, query }) => listMembers(trx, person, query),
  'members.change': ({ trx, person, id, body }) => changeMember(trx, person, id, body),
  'members.remove': ({ trx, person, id }) => removeMember(trx, person, id),
};
