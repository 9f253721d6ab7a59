import office from '@messages/en.json?part=office'
import { flat, i18n } from './i18n'

/** The words of the office, which come with it: whoever shows one of these imports this. */
i18n.global.mergeLocaleMessage('en', flat(office))
