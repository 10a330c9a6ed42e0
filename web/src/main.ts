import '@fontsource-variable/atkinson-hyperlegible-next/wght.css'
import 'vuetify/styles'
import './shell/base.css'

import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'

import App from './App.vue'
import { queryClient } from './api/queries'
import { keepApplication } from './offline/kept'
import { makeRouter } from './shell/router'
import { makeTheme } from './shell/theme'
import { texts } from './texts'

createApp(App)
  .use(createPinia())
  .use(makeTheme())
  .use(texts)
  .use(makeRouter())
  .use(VueQueryPlugin, { queryClient })
  .mount('#app')
keepApplication()
