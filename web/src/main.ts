import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource/barlow-condensed/500.css'
import '@fontsource/barlow-condensed/600.css'
import 'vuetify/styles'
import './styles.css'

import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'
import App from './App.vue'
import { router } from './router'
import { day, night } from './theme'

createApp(App)
  .use(createPinia())
  .use(router)
  .use(VueQueryPlugin, {
    queryClientConfig: { defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: true } } },
  })
  .use(
    createVuetify({
      theme: { defaultTheme: 'day', themes: { day, night } },
      icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
      defaults: {
        VBtn: { variant: 'flat', rounded: 'lg', height: 44 },
        VBtnToggle: { variant: 'outlined', density: 'compact', divided: true, color: 'primary' },
        VTextField: { variant: 'outlined', density: 'compact', hideDetails: true },
      },
    }),
  )
  .mount('#app')
