import { FormControl, FormGroup } from '@angular/forms';
import type { NewOutlet } from '@keyroster/contract';
import {
  USUAL_LIMITS,
  type LengthUnit,
  type OutletKind,
  type OutletLimits,
  type OutletProtocol,
  type Shape,
} from '@keyroster/core';
import { must, textControl } from '../ui/fields';

/** Ways on which pieces reach an outlet, and what its address is called on each. */
export const PROTOCOLS: { protocol: OutletProtocol; name: string; address: string; hint: string }[] = [
  {
    protocol: 'micropub',
    name: 'Micropub: we post to it',
    address: 'Micropub endpoint',
    hint: 'https://…, as the outlet’s help or its page’s head names it',
  },
  {
    protocol: 'mail',
    name: 'Mail: it takes letters',
    address: 'The list’s e-mail address',
    hint: 'letters go to the list, which hands them on',
  },
  {
    protocol: 'feed',
    name: 'Feed: it fetches from us',
    address: 'Hub to tell (WebSub)',
    hint: 'may be left empty; then it fetches when it likes',
  },
  {
    protocol: 'webhook',
    name: 'Webhook: we send it a signed message',
    address: 'Address of the webhook',
    hint: 'signed after Standard Webhooks',
  },
];
export const USUAL_PROTOCOL: Record<OutletKind, OutletProtocol> = {
  'short-post network': 'micropub',
  'picture network': 'micropub',
  'professional network': 'micropub',
  newsletter: 'mail',
  'partner site': 'feed',
  'shop’s news page': 'webhook',
  special: 'feed',
};
/** An outlet that nobody has said anything about yet. */
export const fresh = (): NewOutlet => ({
  name: '',
  kind: 'short-post network',
  protocol: 'micropub',
  address: '',
  settings: {},
  limits: USUAL_LIMITS['short-post network'],
  voice: '',
  knowsKeys: false,
});

const count = () => new FormControl<number | null>(null);

/** The controls of an outlet's form: its limits and settings laid out flat. */
export const outletControls = () =>
  new FormGroup({
    name: textControl(
      '',
      must((name: string) => name.trim() !== '', 'Give it a name.'),
    ),
    kind: new FormControl<OutletKind>('short-post network', { nonNullable: true }),
    protocol: new FormControl<OutletProtocol>('micropub', { nonNullable: true }),
    address: textControl(),
    host: textControl(),
    port: count(),
    from: textControl(),
    user: textControl(),
    secret: textControl(),
    knowsKeys: new FormControl(false, { nonNullable: true }),
    length: count(),
    unit: new FormControl<LengthUnit>('graphemes', { nonNullable: true }),
    linkCost: count(),
    tags: count(),
    pictureKb: count(),
    perHour: count(),
    perDay: count(),
    quietFrom: textControl(),
    quietUntil: textControl(),
    links: new FormControl(true, { nonNullable: true }),
    shapes: new FormControl<readonly Shape[]>([], {
      nonNullable: true,
      validators: must((shapes: readonly Shape[]) => shapes.length > 0, 'Choose at least one picture shape.'),
    }),
    voice: textControl(),
  });

/** The form's own parts of an outlet's limits. */
export const partsOf = ({
  length,
  links,
  tags,
  shapes,
  pictureBytes,
  perHour,
  perDay,
  quiet,
}: OutletLimits) => ({
  ...{ links, tags, shapes, perHour, perDay },
  ...{ length: length?.max ?? null, unit: length?.unit ?? 'graphemes', linkCost: length?.linkCost ?? null },
  ...{ pictureKb: pictureBytes === null ? null : pictureBytes / 1000 },
  ...{ quietFrom: quiet?.from ?? '', quietUntil: quiet?.until ?? '' },
});

/** An outlet as it stands in the form. What signs in is never told again. */
export const flat = ({ name, kind, protocol, address, settings, knowsKeys, voice, limits }: NewOutlet) => ({
  ...{ name, kind, protocol, address, knowsKeys, voice },
  ...{
    host: settings.host ?? '',
    port: settings.port ?? 587,
    from: settings.from ?? '',
    user: '',
    secret: '',
  },
  ...partsOf(limits),
});
export type OutletValues = ReturnType<typeof flat>;
export const OUTLET_LABELS: Record<keyof OutletValues, string> = {
  ...{ name: 'Name', kind: 'Kind', protocol: 'How pieces reach it', address: 'Address', voice: 'Voice' },
  ...{ knowsKeys: 'It knows keys', host: 'Mail server', port: 'Port', from: 'Letters come from' },
  ...{ user: 'Signs in as', secret: 'Password', length: 'Length at most', unit: 'Counted in' },
  ...{ linkCost: 'A link counts', links: 'Links', tags: 'Tags at most', pictureKb: 'Picture at most, kB' },
  ...{ perHour: 'In an hour', perDay: 'In a day', quietFrom: 'Quiet from', quietUntil: 'Quiet until' },
  shapes: 'Picture shapes',
};
