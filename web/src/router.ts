import { createRouter, createWebHistory } from 'vue-router'
import { useSession } from './session/session'
import { text } from './words/words'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    {
      path: '/sign-in',
      component: () => import('./features/signin/SignIn.vue'),
      meta: { open: true, title: 'sign-in' },
    },
    { path: '/', redirect: () => useSession().home },
    { path: '/jobs', component: () => import('./features/jobs/MyJobs.vue'), meta: { title: 'jobs' } },
    {
      path: '/bench/:attempt',
      component: () => import('./features/bench/BenchView.vue'),
      meta: { title: 'bench', bare: true },
    },
    {
      path: '/bench/:attempt/paper',
      component: () => import('./features/shop/PaperSheet.vue'),
      meta: { title: 'paper' },
    },
    {
      path: '/bench/:attempt/hand-over',
      component: () => import('./features/bench/HandOver.vue'),
      meta: { title: 'hand-over' },
    },
    {
      path: '/debrief/:attempt',
      component: () => import('./features/debrief/DebriefView.vue'),
      meta: { title: 'debrief' },
    },
    { path: '/password', component: () => import('./features/signin/OwnPassword.vue'), meta: { title: 'password' } },
    { path: '/people', component: () => import('./features/office/PeopleView.vue'), meta: { title: 'people' } },
    {
      path: '/classes/:id',
      component: () => import('./features/office/ClassView.vue'),
      props: true,
      meta: { title: 'class' },
    },
    {
      path: '/classes/:id/floor',
      component: () => import('./features/floor/FloorView.vue'),
      props: true,
      meta: { title: 'floor' },
    },
    {
      path: '/wall/:id',
      component: () => import('./features/wall/WallView.vue'),
      props: true,
      meta: { title: 'wall' },
    },
    {
      path: '/lesson/:id',
      component: () => import('./features/lesson/LessonView.vue'),
      props: true,
      meta: { title: 'lesson' },
    },
    {
      path: '/people/:person/record',
      component: () => import('./features/office/RecordView.vue'),
      props: true,
      meta: { title: 'record' },
    },
    { path: '/audit', component: () => import('./features/office/AuditView.vue'), meta: { title: 'audit' } },
    {
      path: '/standard',
      component: () => import('./features/office/StandardView.vue'),
      meta: { title: 'standard' },
    },
    {
      path: '/classes/:id/analysis',
      component: () => import('./features/office/AnalysisView.vue'),
      props: true,
      meta: { title: 'analysis' },
    },
    { path: '/people/roster', component: () => import('./features/office/RosterView.vue'), meta: { title: 'roster' } },
    { path: '/reviews', component: () => import('./features/reviews/ReviewsView.vue'), meta: { title: 'reviews' } },
    { path: '/lineup', component: () => import('./features/lesson/LineupView.vue'), meta: { title: 'lineup' } },
    { path: '/inside', component: () => import('./features/inside/InsideView.vue'), meta: { title: 'inside' } },
    {
      path: '/debrief/:attempt/inside',
      component: () => import('./features/inside/InsideView.vue'),
      meta: { title: 'inside' },
    },
    { path: '/aids', component: () => import('./features/aids/AidsView.vue'), meta: { title: 'aids' } },
    { path: '/yard', component: () => import('./features/yard/YardView.vue'), meta: { title: 'yard' } },
    {
      path: '/yard/new-job',
      component: () => import('./features/scenario/ScenarioDesk.vue'),
      meta: { title: 'new-job' },
    },
    {
      path: '/yard/scenarios',
      component: () => import('./features/scenario/LibraryView.vue'),
      meta: { title: 'scenarios' },
    },
    {
      path: '/yard/scenarios/:id',
      component: () => import('./features/scenario/ScenarioDesk.vue'),
      props: true,
      meta: { title: 'scenario' },
    },
    {
      path: '/yard/machines/new',
      component: () => import('./features/yard/SheetDesk.vue'),
      meta: { title: 'new-machine' },
    },
    {
      path: '/yard/machines/:machine',
      component: () => import('./features/yard/SheetDesk.vue'),
      meta: { title: 'sheet' },
    },
    {
      path: '/yard/figures',
      component: () => import('./features/yard/OwnFigures.vue'),
      meta: { title: 'own-figures' },
    },
    { path: '/yard/exams', component: () => import('./features/shop/ExamsView.vue'), meta: { title: 'exams' } },
    { path: '/yard/exams/:exam', component: () => import('./features/shop/ExamView.vue'), meta: { title: 'exam' } },
    {
      path: '/yard/exams/:exam/sheets',
      component: () => import('./features/shop/ExamSheets.vue'),
      meta: { title: 'exam' },
    },
    {
      path: '/yard/instruments',
      component: () => import('./features/shop/InstrumentsView.vue'),
      meta: { title: 'instruments' },
    },
    { path: '/yard/study', component: () => import('./features/shop/StudyView.vue'), meta: { title: 'study' } },
    {
      path: '/yard/engines',
      component: () => import('./features/shop/EnginesView.vue'),
      meta: { title: 'engines' },
    },
    {
      path: '/yard/engines/:machine',
      component: () => import('./features/shop/EngineView.vue'),
      meta: { title: 'engine' },
    },
    {
      path: '/yard/procedures',
      component: () => import('./features/procedure/ProceduresView.vue'),
      meta: { title: 'procedures' },
    },
    {
      path: '/yard/procedures/:procedure',
      component: () => import('./features/procedure/ProcedureDesk.vue'),
      meta: { title: 'procedure' },
    },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})

router.beforeEach(async (to) => {
  // The page is fetched while the server says who this is.
  for (const { components } of to.matched)
    if (typeof components?.default === 'function') void (components.default as () => unknown)()
  const session = useSession()
  await session.know()
  if (!session.me && !to.meta.open) return { path: '/sign-in', query: { back: to.fullPath } }
  if (session.me?.must_change && to.path !== '/password') return '/password'
  if (session.me && to.path === '/sign-in') return session.home
})

router.afterEach((to) => {
  document.title = to.meta.title ? text('title.page', { title: `@title.${String(to.meta.title)}` }) : 'Zanjero'
})
