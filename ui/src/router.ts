import { createRouter, createWebHistory, type RouteLocationRaw } from 'vue-router';

export const STEPS = [
  { id: 'piece', label: 'Piece' },
  { id: 'light', label: 'Light' },
  { id: 'coats', label: 'Coats' },
  { id: 'cups', label: 'Cups' },
  { id: 'day', label: 'Day' },
  { id: 'booth', label: 'Booth' },
] as const;

export type StepId = (typeof STEPS)[number]['id'];

/** Steps of a plan as it was on an earlier day; what is to be done stays with the plan of now. */
export const STEPS_THEN = STEPS.filter((s) => s.id !== 'day' && s.id !== 'booth');

/** Where a step of a plan as it was on an earlier day is, by its session of the notebook. */
export function placeThen(session: string, step: StepId): RouteLocationRaw {
  return { name: 'then', params: { then: session, step } };
}

/** Where a step of a plan is: the booth takes the whole screen. */
export function placeOf(id: string, step: StepId): RouteLocationRaw {
  return step === 'booth'
    ? { name: 'booth', params: { id } }
    : { name: 'plan', params: { id, step } };
}

const MOMENT_MS = 300;
const SCREENS = {
  plans: () => import('@/plans/PlansScreen.vue'),
  shelf: () => import('@/shelf/ShelfScreen.vue'),
  notebook: () => import('@/notebook/NotebookScreen.vue'),
  cards: () => import('@/cards/CardsScreen.vue'),
  window: () => import('@/window/WindowScreen.vue'),
  plan: () => {
    // beside the screen, not after it; the screen itself says when it cannot be loaded
    void import('@/instruments/piece/piece-scene').catch(() => undefined);
    return import('@/plan/PlanScreen.vue');
  },
};

/**
 * Fetch the main screens one by one while nothing else goes on, so that each opens at once.
 * A tablet at the booth stays there and fetches none.
 */
export async function fetchScreens(): Promise<void> {
  await router.isReady();
  if (router.currentRoute.value.name === 'booth') return;
  for (const screen of Object.values(SCREENS)) {
    await idle();
    // one that cannot be fetched now is fetched, or told of, when it is opened
    await screen().catch(() => undefined);
  }
}

/** Until nothing else goes on; some browsers do not tell, there it is a moment. */
function idle(): Promise<unknown> {
  const told = 'requestIdleCallback' in window ? window.requestIdleCallback : null;
  return new Promise((then) => (told ? told(then) : setTimeout(then, MOMENT_MS)));
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'plans', component: SCREENS.plans },
    { path: '/shelf', name: 'shelf', component: SCREENS.shelf },
    {
      path: '/notebook/:what(session|paint|airbrush)?/:id?',
      name: 'notebook',
      component: SCREENS.notebook,
      props: true,
    },
    {
      path: '/then/:then/:step(piece|light|coats|cups)?',
      name: 'then',
      component: SCREENS.plan,
      props: true,
    },
    { path: '/cards', name: 'cards', component: SCREENS.cards },
    {
      path: '/cards/practice',
      name: 'practice',
      component: () => import('@/cards/PracticeScreen.vue'),
    },
    {
      path: '/cards/compare',
      name: 'compare',
      component: () => import('@/cards/CompareScreen.vue'),
    },
    { path: '/window', name: 'window', component: SCREENS.window },
    {
      path: '/plan/:id/booth',
      name: 'booth',
      component: () => import('@/booth/BoothScreen.vue'),
      props: true,
    },
    {
      path: '/plan/:id/:step(piece|light|coats|cups|day)?',
      name: 'plan',
      component: SCREENS.plan,
      props: true,
    },
    { path: '/guide', name: 'guide', component: () => import('@/guide/GuideScreen.vue') },
    { path: '/:anything(.*)*', redirect: '/' },
  ],
});
