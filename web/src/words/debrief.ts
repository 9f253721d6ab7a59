import debrief from '@messages/en.json?part=debrief'
import { flat, i18n } from './i18n'

/** The words of a debrief alone, which come with it: whoever shows one imports this. */
i18n.global.mergeLocaleMessage('en', flat(debrief))
