import aids from '@messages/en.json?part=aids'
import { flat, i18n } from './i18n'

/** The words of the job aids alone, which come with them: whoever shows them imports this. */
i18n.global.mergeLocaleMessage('en', flat(aids))
