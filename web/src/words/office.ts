import office from '@messages/en.json?part=office'
import { part } from './i18n'

/** The words of the office, which come with it: whoever shows one of these imports this. */
await part(office, { es: () => import('@messages/es.json?part=office') })
