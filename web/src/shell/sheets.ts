import { defineAsyncComponent } from 'vue'

/** What most visits never open: loaded when it is asked for. */
export const HelpSheet = defineAsyncComponent(() => import('./HelpSheet.vue'))
export const FindPalette = defineAsyncComponent(() => import('./FindPalette.vue'))
