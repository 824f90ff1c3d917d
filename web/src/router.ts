import { createRouter, createWebHistory } from 'vue-router'

/** Every station loads its own code when it is opened. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'board', component: () => import('./stations/board/BoardView.vue') },
    {
      path: '/builds/:id',
      component: () => import('./shell/BuildShell.vue'),
      props: true,
      children: [
        { path: '', redirect: (to) => ({ name: 'survey', params: to.params }) },
        { path: 'survey', name: 'survey', component: () => import('./stations/survey/SurveyView.vue') },
        { path: 'plan', name: 'plan', component: () => import('./stations/plan/PlanView.vue') },
        { path: 'fuel', name: 'fuel', component: () => import('./stations/fuel/FuelView.vue') },
        { path: 'spark', name: 'spark', component: () => import('./stations/spark/SparkView.vue') },
        { path: 'tune', name: 'tune', component: () => import('./stations/tune/TuneView.vue') },
        { path: 'start', name: 'start', component: () => import('./stations/start/StartView.vue') },
        { path: 'learn', name: 'learn', component: () => import('./stations/learn/LearnView.vue') },
        { path: 'handover', name: 'handover', component: () => import('./stations/handover/HandoverView.vue') },
        { path: 'logbook', name: 'logbook', component: () => import('./stations/logbook/LogbookView.vue') },
      ],
    },
    { path: '/:pathMatch(.*)*', name: 'nowhere', component: () => import('./shell/NowhereView.vue') },
  ],
})
