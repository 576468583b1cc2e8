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

/** Where a step of a plan is: the booth takes the whole screen. */
export function placeOf(id: string, step: StepId): RouteLocationRaw {
  return step === 'booth'
    ? { name: 'booth', params: { id } }
    : { name: 'plan', params: { id, step } };
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'plans', component: () => import('@/plans/PlansScreen.vue') },
    { path: '/shelf', name: 'shelf', component: () => import('@/shelf/ShelfScreen.vue') },
    { path: '/window', name: 'window', component: () => import('@/window/WindowScreen.vue') },
    {
      path: '/plan/:id/booth',
      name: 'booth',
      component: () => import('@/booth/BoothScreen.vue'),
      props: true,
    },
    {
      path: '/plan/:id/:step(piece|light|coats|cups|day)?',
      name: 'plan',
      component: () => import('@/plan/PlanScreen.vue'),
      props: true,
    },
    { path: '/:anything(.*)*', redirect: '/' },
  ],
});
