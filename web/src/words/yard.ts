import yard from '@messages/en.json?part=yard'
import { flat, i18n } from './i18n'

/** The words of the instructor's desks, which come with them: whoever shows one of these imports this. */
i18n.global.mergeLocaleMessage('en', flat(yard))
