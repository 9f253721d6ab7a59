import meanings from '@messages/en.json?part=meanings'
import { part } from './i18n'

/** What the words of the trade mean: whoever shows it imports this. */
await part(meanings, { es: () => import('@messages/es.json?part=meanings') })
