import { createRouter, createWebHistory } from 'vue-router'
import StudyView from '@/features/study/StudyView.vue'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'studies', component: () => import('@/features/home/StartView.vue') },
    {
      path: '/studies/:studyId/:figureId?',
      name: 'study',
      component: StudyView,
      props: true,
    },
    {
      path: '/studies/:studyId/plates/:plateId',
      name: 'plate',
      component: StudyView,
      props: true,
    },
    {
      path: '/guide/:page?',
      name: 'guide',
      component: () => import('@/features/guide/GuideView.vue'),
    },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})
