import { createRouter, createWebHistory, type RouteRecordRaw } from 'vue-router'

/** Every station has a folder with its view; its name is the station's id and its path. Each loads its own code when it is opened. */
const views = import.meta.glob<{ default: object }>('./stations/*/*View.vue')
const rooms: RouteRecordRaw[] = Object.entries(views)
  .map(([file, load]) => ({ id: file.split('/')[2], load }))
  .filter(({ id }) => id !== 'board')
  .map(({ id, load }) => ({ path: id, name: id, component: load }))

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'board', component: () => import('./stations/board/BoardView.vue') },
    {
      path: '/builds/:id',
      component: () => import('./shell/BuildShell.vue'),
      props: true,
      children: [{ path: '', redirect: (to) => ({ name: 'survey', params: to.params }) }, ...rooms],
    },
    { path: '/people', name: 'people', component: () => import('./people/PeopleView.vue') },
    // where a code's link and picture lead: the sheet over everything takes it from the address
    { path: '/pair', name: 'pair', component: () => import('./people/PeopleView.vue') },
    // the house's own parts: for who builds a screen, and for the checks of access and looks
    { path: '/parts', name: 'parts', component: () => import('./parts/PartsView.vue') },
    { path: '/:pathMatch(.*)*', name: 'nowhere', component: () => import('./shell/NowhereView.vue') },
  ],
})
