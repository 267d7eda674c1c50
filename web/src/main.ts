import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import MarksWorker from './drawing/paint/marks-worker?worker'
import { listen, tell } from './failures'
import { DRAWS_BESIDE } from './figure/page'
import { router } from './router'
import './styles.css'
import { vuetify } from './theme'
import { showPalette } from './ui/palette'

showPalette()
const app = createApp(App).use(createPinia()).use(router).use(vuetify)
app.provide(DRAWS_BESIDE, () => new MarksWorker())
app.config.errorHandler = tell
listen()
app.mount('#app')
