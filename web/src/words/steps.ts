import steps from '@messages/en.json?part=steps'
import { part } from './i18n'

/** The words of somebody's first steps, which come with them: whoever shows them imports this. */
await part(steps, { es: () => import('@messages/es.json?part=steps') })
