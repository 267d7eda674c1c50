import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { held } from './held'
import { router } from './router'
import './styles.css'
import { vuetify } from './theme'

createApp(App).use(createPinia()).use(router).use(vuetify).directive('held', held).mount('#app')
