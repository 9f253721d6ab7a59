import talk from '@messages/en.json?part=talk'
import { part } from './i18n'

/** The words of what is said at a bench, which come with it: whoever shows one of these imports this. */
await part(talk, { es: () => import('@messages/es.json?part=talk') })
