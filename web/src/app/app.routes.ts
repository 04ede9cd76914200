import { inject } from '@angular/core';
import { Router, type CanActivateFn, type CanMatchFn, type Routes } from '@angular/router';
import type { RoleAction } from '@keyroster/core';
import { SessionService } from './accounts/session.service';
import { leaveGuard } from './ui/unsaved';

/** The newsroom is for people who are signed in; everyone else is led to the sign-in and back afterwards. */
const signedIn: CanActivateFn = async (_route, state) => {
  const session = inject(SessionService);
  const router = inject(Router);
  await session.known();
  // Without a connection nobody can be asked who is here; what is written down is kept on the device.
  if (!session.me() && session.unreachable()) return router.parseUrl('/capture');
  if (session.needsSetup()) return router.parseUrl('/set-up');
  if (!session.me())
    return router.createUrlTree(['/sign-in'], { queryParams: state.url === '/' ? {} : { to: state.url } });
  return session.may('enterNewsroom') ? true : router.parseUrl('/sign-in');
};

/** The person signed in, or without a connection the last one. */
const maybeSignedIn: CanActivateFn = async (_route, state) => {
  const session = inject(SessionService);
  const router = inject(Router);
  await session.known();
  if (session.me()) return session.may('pitch') ? true : router.parseUrl('/today');
  return session.unreachable()
    ? true
    : router.createUrlTree(['/sign-in'], { queryParams: { to: state.url } });
};

/** What a role must be able to do for a page to be open to it. */
const PAGES = {
  'archive/batches': 'changeMany',
  'archive/release-log': 'seeReleaseLog',
  'archive/specials': 'makeSpecials',
  comments: 'moderate',
  'outlets/letters': 'writeLetters',
  'outlets/subscribers': 'manageBlog',
  'planner/campaigns': 'planCampaigns',
  'planner/serials': 'manageSerials',
  results: 'seeResults',
  site: 'manageBlog',
  'site/formats': 'manageTags',
  'site/checklists': 'manageTags',
} as const satisfies Record<string, RoleAction>;

/** Matches only for those to whom the page is open. */
const reaches =
  (page: keyof typeof PAGES): CanMatchFn =>
  async () => {
    const session = inject(SessionService);
    await session.known();
    return session.may(PAGES[page]);
  };

/** Pages that ask before unsaved input is lost. */
const asking = (pages: Routes): Routes =>
  pages.map((page) => (page.loadComponent ? { ...page, canDeactivate: [leaveGuard] } : page));

export const routes: Routes = [
  {
    path: 'sign-in',
    title: 'Sign in · Key Roster',
    loadComponent: () => import('./accounts/sign-in.page').then((m) => m.SignInPage),
  },
  {
    path: 'set-up',
    title: 'Set up · Key Roster',
    loadComponent: () => import('./accounts/set-up.page').then((m) => m.SetUpPage),
  },
  {
    path: 'capture',
    title: 'Capture · Key Roster',
    canActivate: [maybeSignedIn],
    loadComponent: () => import('./capture/capture.page').then((m) => m.CapturePage),
  },
  {
    path: 'invitation',
    title: 'Invitation · Key Roster',
    loadComponent: () => import('./accounts/invitation.page').then((m) => m.InvitationPage),
  },
  {
    path: '',
    canActivate: [signedIn],
    loadComponent: () => import('./frame/frame').then((m) => m.Frame),
    children: asking([
      { path: '', pathMatch: 'full', redirectTo: 'today' },
      {
        path: 'today',
        title: 'Today · Key Roster',
        loadComponent: () => import('./today/today.page').then((m) => m.TodayPage),
      },
      {
        path: 'planner',
        title: 'Planner · Key Roster',
        loadComponent: () => import('./planner/planner.page').then((m) => m.PlannerPage),
      },
      {
        path: 'planner/slots',
        title: 'Standing slots · Key Roster',
        loadComponent: () => import('./planner/slots.page').then((m) => m.SlotsPage),
      },
      {
        path: 'archive/specials',
        title: 'Specials · Key Roster',
        canMatch: [reaches('archive/specials')],
        loadComponent: () => import('./specials/specials.page').then((m) => m.SpecialsPage),
      },
      {
        path: 'archive/specials/:id',
        title: 'A special · Key Roster',
        canMatch: [reaches('archive/specials')],
        loadComponent: () => import('./specials/special.page').then((m) => m.SpecialPage),
      },
      {
        path: 'comments',
        title: 'Comments · Key Roster',
        canMatch: [reaches('comments')],
        loadComponent: () => import('./comments/comments.page').then((m) => m.CommentsPage),
      },
      {
        path: 'planner/campaigns',
        title: 'Campaigns · Key Roster',
        canMatch: [reaches('planner/campaigns')],
        loadComponent: () => import('./campaigns/campaigns.page').then((m) => m.CampaignsPage),
      },
      {
        path: 'planner/serials',
        title: 'Serials · Key Roster',
        canMatch: [reaches('planner/serials')],
        loadComponent: () => import('./planner/serials.page').then((m) => m.SerialsPage),
      },
      {
        path: 'planner/absences',
        title: 'Absences · Key Roster',
        loadComponent: () => import('./planner/absences.page').then((m) => m.AbsencesPage),
      },
      {
        path: 'planner/capacity',
        title: 'Capacity · Key Roster',
        loadComponent: () => import('./planner/capacity.page').then((m) => m.CapacityPage),
      },
      {
        path: 'planner/rhythm',
        title: 'Runway and rhythm · Key Roster',
        loadComponent: () => import('./planner/rhythm.page').then((m) => m.RhythmPage),
      },
      {
        path: 'planner/calendars',
        title: 'Calendars · Key Roster',
        loadComponent: () => import('./planner/calendars.page').then((m) => m.CalendarsPage),
      },
      {
        path: 'desk',
        title: 'Desk · Key Roster',
        loadComponent: () => import('./desk/desk.page').then((m) => m.DeskPage),
      },
      {
        path: 'posts/:id',
        data: { preload: true },
        loadComponent: () => import('./desk/post.page').then((m) => m.PostPage),
      },
      {
        path: 'posts/:id/preview',
        title: 'Preview · Key Roster',
        loadComponent: () => import('./desk/preview.page').then((m) => m.PreviewPage),
      },
      {
        path: 'posts/:id/versions',
        title: 'Versions · Key Roster',
        loadComponent: () => import('./versions/versions.page').then((m) => m.VersionsPage),
      },
      {
        path: 'posts/:id/spinoffs',
        title: 'Spin-offs · Key Roster',
        loadComponent: () => import('./outlets/spinoffs.page').then((m) => m.SpinoffsPage),
      },
      {
        path: 'pictures',
        title: 'Pictures · Key Roster',
        loadComponent: () => import('./media/pictures.page').then((m) => m.PicturesPage),
      },
      {
        path: 'archive',
        title: 'Archive · Key Roster',
        loadComponent: () => import('./archive/archive.page').then((m) => m.ArchivePage),
      },
      {
        path: 'archive/batches',
        canMatch: [reaches('archive/batches')],
        title: 'Batches · Key Roster',
        loadComponent: () => import('./archive/batches.page').then((m) => m.BatchesPage),
      },
      {
        path: 'archive/release-log',
        canMatch: [reaches('archive/release-log')],
        title: 'Release log · Key Roster',
        loadComponent: () => import('./archive/release-log.page').then((m) => m.ReleaseLogPage),
      },
      {
        path: 'outlets',
        title: 'Outlets · Key Roster',
        loadComponent: () => import('./outlets/outlets.page').then((m) => m.OutletsPage),
      },
      {
        path: 'outlets/log',
        title: 'Send log · Key Roster',
        loadComponent: () => import('./outlets/send-log.page').then((m) => m.SendLogPage),
      },
      {
        path: 'outlets/patterns',
        title: 'Patterns · Key Roster',
        loadComponent: () => import('./outlets/patterns.page').then((m) => m.PatternsPage),
      },
      {
        path: 'outlets/evergreen',
        title: 'Evergreen · Key Roster',
        loadComponent: () => import('./outlets/evergreen.page').then((m) => m.EvergreenPage),
      },
      {
        path: 'outlets/letters',
        title: 'Letters · Key Roster',
        canMatch: [reaches('outlets/letters')],
        loadComponent: () => import('./letters/letters.page').then((m) => m.LettersPage),
      },
      {
        path: 'outlets/letters/:id',
        title: 'A letter · Key Roster',
        canMatch: [reaches('outlets/letters')],
        loadComponent: () => import('./letters/letter.page').then((m) => m.LetterPage),
      },
      {
        path: 'outlets/subscribers',
        title: 'Subscribers · Key Roster',
        canMatch: [reaches('outlets/subscribers')],
        loadComponent: () => import('./letters/subscribers.page').then((m) => m.SubscribersPage),
      },
      {
        path: 'results',
        title: 'Results · Key Roster',
        canMatch: [reaches('results')],
        loadComponent: () => import('./results/results.page').then((m) => m.ResultsPage),
      },
      {
        path: 'results/posts/:id',
        title: 'Results of a post · Key Roster',
        canMatch: [reaches('results')],
        loadComponent: () => import('./results/post-results.page').then((m) => m.PostResultsPage),
      },
      {
        path: 'roster',
        title: 'Roster · Key Roster',
        loadComponent: () => import('./roster/roster.page').then((m) => m.RosterPage),
      },
      {
        path: 'roster/load',
        title: 'Load · Key Roster',
        loadComponent: () => import('./roster/load.page').then((m) => m.LoadPage),
      },
      {
        path: 'roster/:id',
        loadComponent: () => import('./roster/person.page').then((m) => m.PersonPage),
      },
      {
        path: 'account',
        title: 'Your account · Key Roster',
        loadComponent: () => import('./accounts/account.page').then((m) => m.AccountPage),
      },
      {
        path: 'site',
        canMatch: [reaches('site')],
        title: 'Site · Key Roster',
        loadComponent: () => import('./site/site.page').then((m) => m.SitePage),
      },
      {
        path: 'site/pages',
        canMatch: [reaches('site')],
        title: 'Pages · Key Roster',
        loadComponent: () => import('./site/pages.page').then((m) => m.PagesPage),
      },
      {
        path: 'site/looks',
        canMatch: [reaches('site')],
        title: 'Looks · Key Roster',
        loadComponent: () => import('./site/looks.page').then((m) => m.LooksPage),
      },
      {
        path: 'site/menu',
        canMatch: [reaches('site')],
        title: 'Menu and panels · Key Roster',
        loadComponent: () => import('./site/menu.page').then((m) => m.MenuPage),
      },
      {
        path: 'site/spotlight',
        canMatch: [reaches('site')],
        title: 'Spotlight · Key Roster',
        loadComponent: () => import('./site/spotlight.page').then((m) => m.SpotlightPage),
      },
      {
        path: 'site/members',
        canMatch: [reaches('site')],
        title: 'Members · Key Roster',
        loadComponent: () => import('./site/members.page').then((m) => m.MembersPage),
      },
      {
        path: 'site/blogs',
        canMatch: [reaches('site')],
        title: 'Blogs · Key Roster',
        loadComponent: () => import('./site/blogs.page').then((m) => m.BlogsPage),
      },
      {
        path: 'site/around',
        canMatch: [reaches('site')],
        title: 'In another site · Key Roster',
        loadComponent: () => import('./site/around.page').then((m) => m.AroundPage),
      },
      {
        path: 'site/changes',
        canMatch: [reaches('site')],
        title: 'Changes · Key Roster',
        loadComponent: () => import('./site/changes.page').then((m) => m.ChangesPage),
      },
      {
        path: 'site/formats',
        canMatch: [reaches('site/formats')],
        title: 'Formats, templates and tags · Key Roster',
        loadComponent: () => import('./site/formats.page').then((m) => m.FormatsPage),
      },
      {
        path: 'site/checklists',
        canMatch: [reaches('site/checklists')],
        title: 'Checklists · Key Roster',
        loadComponent: () => import('./checklists/checklists.page').then((m) => m.ChecklistsPage),
      },
      // What matched above but is not open to this person.
      ...Object.keys(PAGES).map((path) => ({
        path,
        title: 'Not open to you · Key Roster',
        loadComponent: () => import('./ui/closed.page').then((m) => m.ClosedPage),
      })),
      {
        path: '**',
        title: 'Not here · Key Roster',
        loadComponent: () => import('./ui/missing.page').then((m) => m.MissingPage),
      },
    ]),
  },
];
