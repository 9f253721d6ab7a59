import debrief from '@messages/en.json?part=debrief'
import { part } from './i18n'

/** The words of a debrief alone, which come with it: whoever shows one imports this. */
await part(debrief, { es: () => import('@messages/es.json?part=debrief') })
