import { createI18n } from 'vue-i18n'

import en from './en'

export const texts = createI18n({ legacy: false, locale: 'en', messages: { en } })
