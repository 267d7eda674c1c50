import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import MarksWorker from '@/render/paint/marks-worker?worker'
import { listen, tell } from '@/stores/failures'
import { DRAWS_BESIDE } from '@/canvas/page'
import { router } from './router'
import './styles.css'
import { vuetify } from '@/ui/theme'
import { showPalette } from '@/ui/palette'

showPalette()
const app = createApp(App).use(createPinia()).use(router).use(vuetify)
app.provide(DRAWS_BESIDE, () => new MarksWorker())
app.config.errorHandler = tell
listen()
app.mount('#app')
