import handing from '@messages/en.json?part=handing'
import { part } from './i18n'

/** The words of a hand-over alone, which come with it. */
await part(handing, { es: () => import('@messages/es.json?part=handing') })
