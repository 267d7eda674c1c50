import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import MarksWorker from '@/render/paint/mark-worker?worker'
import { listen, tell } from '@/stores/failures'
import { MARK_WORKER } from '@/canvas/figure-canvas'
import { router } from './router'
import './styles.css'
import { vuetify } from '@/ui/theme/theme'
import { showPalette } from '@/ui/theme/palette'

showPalette()
const app = createApp(App).use(createPinia()).use(router).use(vuetify)
app.provide(MARK_WORKER, () => new MarksWorker())
app.config.errorHandler = tell
listen()
app.mount('#app')
