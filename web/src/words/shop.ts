import shop from '@messages/en.json?part=shop'
import { part } from './i18n'

/** The words of real engines, which come with them: whoever shows one imports this. */
await part(shop, { es: () => import('@messages/es.json?part=shop') })
