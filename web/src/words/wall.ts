import wall from '@messages/en.json?part=wall'
import { part } from './i18n'

/** The words of the wall, which come with it: whoever shows one of these imports this. */
await part(wall, { es: () => import('@messages/es.json?part=wall') })
