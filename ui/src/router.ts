import { createRouter, createWebHistory } from 'vue-router';

export const STEPS = [
  { id: 'piece', label: 'Piece' },
  { id: 'light', label: 'Light' },
  { id: 'coats', label: 'Coats' },
  { id: 'cups', label: 'Cups' },
  { id: 'day', label: 'Day' },
] as const;

export type StepId = (typeof STEPS)[number]['id'];

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'plans', component: () => import('@/plans/PlansScreen.vue') },
    { path: '/shelf', name: 'shelf', component: () => import('@/shelf/ShelfScreen.vue') },
    { path: '/window', name: 'window', component: () => import('@/window/WindowScreen.vue') },
    {
      path: '/plan/:id/:step(piece|light|coats|cups|day)?',
      name: 'plan',
      component: () => import('@/plan/PlanScreen.vue'),
      props: true,
    },
    { path: '/:anything(.*)*', redirect: '/' },
  ],
});
