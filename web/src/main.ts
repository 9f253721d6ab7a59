import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource/barlow-condensed/500.css'
import '@fontsource/barlow-condensed/600.css'
import 'vuetify/styles/core'
import './styles.css'

import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router'
import { vuetify } from './theme'

createApp(App)
  .use(createPinia())
  .use(router)
  .use(VueQueryPlugin, {
    queryClientConfig: { defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: true } } },
  })
  .use(vuetify())
  .mount('#app')
