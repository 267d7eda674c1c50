import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { listen, tell } from './failures'
import { router } from './router'
import './styles.css'
import { vuetify } from './theme'
import { showPalette } from './ui/palette'

showPalette()
const app = createApp(App).use(createPinia()).use(router).use(vuetify)
app.config.errorHandler = tell
listen()
app.mount('#app')
