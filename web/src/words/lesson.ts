import lesson from '@messages/en.json?part=lesson'
import { part } from './i18n'

/** The words of a lesson of the senses, which come with it: whoever shows one imports this. */
await part(lesson, { es: () => import('@messages/es.json?part=lesson') })
