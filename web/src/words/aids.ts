import aids from '@messages/en.json?part=aids'
import { part } from './i18n'

/** The words of the job aids alone, which come with them: whoever shows them imports this. */
await part(aids, { es: () => import('@messages/es.json?part=aids') })
