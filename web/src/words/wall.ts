import wall from '@messages/en.json?part=wall'
import { flat, i18n } from './i18n'

/** The words of the wall, which come with it: whoever shows one of these imports this. */
i18n.global.mergeLocaleMessage('en', flat(wall))
