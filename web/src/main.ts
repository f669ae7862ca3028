import '@fontsource/b612/400.css'
import '@fontsource/b612/700.css'
import '@fontsource/b612/400-italic.css'
import 'element-plus/theme-chalk/base.css'
import './styles/theme.css'
import './styles/base.css'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import { ApiError } from './api/client'
import App from './app/App.vue'
import { router } from './app/router'

createApp(App)
  .use(createPinia())
  .use(router)
  .use(VueQueryPlugin, {
    queryClientConfig: {
      defaultOptions: {
        queries: {
          staleTime: 5_000,
          retry: (count: number, error: Error) =>
            count < 2 && !(error instanceof ApiError && error.status >= 400 && error.status < 500),
        },
      },
    },
  })
  .mount('#app')
