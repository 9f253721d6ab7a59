import talk from '@messages/en.json?part=talk'
import { flat, i18n } from './i18n'

/** The words of what is said at a bench, which come with it: whoever shows one of these imports this. */
i18n.global.mergeLocaleMessage('en', flat(talk))
