import hear from '@messages/en.json?part=hear'
import { part } from './i18n'

/** The words of what is heard and felt, which come with it: whoever shows one of these imports this. */
await part(hear, { es: () => import('@messages/es.json?part=hear') })
