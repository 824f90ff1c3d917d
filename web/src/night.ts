/** Naive UI's dark colours of every component there is: loaded only where it is dark. */
export { darkTheme } from 'naive-ui'
