import yard from '@messages/en.json?part=yard'
import { part } from './i18n'

/** The words of the instructor's desks, which come with them: whoever shows one of these imports this. */
await part(yard, { es: () => import('@messages/es.json?part=yard') })
