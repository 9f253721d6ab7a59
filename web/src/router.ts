import { createRouter, createWebHistory } from 'vue-router'
import { useSession } from './session/session'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    {
      path: '/sign-in',
      component: () => import('./features/signin/SignIn.vue'),
      meta: { open: true, title: 'Sign in' },
    },
    { path: '/', redirect: () => useSession().home },
    { path: '/jobs', component: () => import('./features/jobs/MyJobs.vue'), meta: { title: 'My jobs' } },
    {
      path: '/bench/:attempt',
      component: () => import('./features/bench/BenchView.vue'),
      meta: { title: 'Bench', bare: true },
    },
    {
      path: '/bench/:attempt/hand-over',
      component: () => import('./features/bench/HandOver.vue'),
      meta: { title: 'Hand-over' },
    },
    {
      path: '/debrief/:attempt',
      component: () => import('./features/debrief/DebriefView.vue'),
      meta: { title: 'Debrief' },
    },
    { path: '/inside', component: () => import('./features/inside/InsideView.vue'), meta: { title: 'Inside' } },
    {
      path: '/debrief/:attempt/inside',
      component: () => import('./features/inside/InsideView.vue'),
      meta: { title: 'Inside' },
    },
    { path: '/aids', component: () => import('./features/aids/AidsView.vue'), meta: { title: 'Job aids' } },
    { path: '/yard', component: () => import('./features/yard/YardView.vue'), meta: { title: 'Yard' } },
    { path: '/yard/new-job', component: () => import('./features/yard/JobDesk.vue'), meta: { title: 'Set a job' } },
    {
      path: '/yard/machines/new',
      component: () => import('./features/yard/SheetDesk.vue'),
      meta: { title: 'Add a machine' },
    },
    {
      path: '/yard/machines/:machine',
      component: () => import('./features/yard/SheetDesk.vue'),
      meta: { title: 'Service sheet' },
    },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})

router.beforeEach(async (to) => {
  const session = useSession()
  await session.know()
  if (!session.me && !to.meta.open) return { path: '/sign-in', query: { back: to.fullPath } }
  if (session.me && to.path === '/sign-in') return session.home
})

router.afterEach((to) => {
  document.title = to.meta.title ? `${to.meta.title} · Zanjero` : 'Zanjero'
})
