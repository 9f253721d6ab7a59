import { createVuetify, type ThemeDefinition } from 'vuetify'
import { VBtn } from 'vuetify/components/VBtn'
import { aliases as icons, mdi } from 'vuetify/iconsets/mdi-svg'
import { language } from './words/i18n'

/**
 * Colour roles: water and adobe. Contrast ratios against the surface that each
 * stands on (WCAG 2.2), measured by the formula of that recommendation:
 *
 *   role              day       on        ratio   night     on        ratio
 *   ink               #20302E   #FFFBF3   13.5    #EFE8DA   #1D2827   12.4
 *   muted             #55645E   #FFFBF3    6.0    #A9B5AC   #1D2827    7.2
 *   water (deep)      #12606E   #FFFFFF    7.1    #7FD3DB   #1D2827    8.9
 *   suspect text      #7A4D00   #F7E4B8    5.6    #F4C877   #3A2F17    8.2
 *   condemned text    #8A2F12   #F1CDB9    5.6    #FFB59A   #43241A    8.3
 *   good              #2F6B45   #FFFBF3    6.1    #8FD0A5   #1D2827    8.6
 */
const day: ThemeDefinition = {
  dark: false,
  colors: {
    background: '#F4EDE1',
    surface: '#FFFBF3',
    primary: '#0F4A54',
    secondary: '#12606E',
    error: '#8A2F12',
    warning: '#7A4D00',
    success: '#2F6B45',
    'on-background': '#20302E',
    'on-surface': '#20302E',
    'on-primary': '#FFFFFF',
  },
}

const night: ThemeDefinition = {
  dark: true,
  colors: {
    background: '#141C1B',
    surface: '#1D2827',
    primary: '#3FA6B2',
    secondary: '#7FD3DB',
    error: '#FFB59A',
    warning: '#F4C877',
    success: '#8FD0A5',
    'on-background': '#EFE8DA',
    'on-surface': '#EFE8DA',
    'on-primary': '#0B1716',
  },
}

/**
 * How the library's controls look and behave everywhere: flat on plaster, tall
 * enough for a glove, with the name of a field always on its edge.
 */
const field = {
  variant: 'outlined',
  density: 'comfortable',
  hideDetails: 'auto',
  persistentPlaceholder: true,
  color: 'secondary',
}
// A list stands open at once: a press while it unfolds would be lost.
const list = { ...field, transition: false, menuProps: { maxHeight: 360, transition: false } }
const defaults = {
  MainBtn: { variant: 'flat', color: 'secondary', ripple: false },
  VBtn: { variant: 'outlined', ripple: false },
  VBtnToggle: { variant: 'outlined', divided: true },
  VTabs: { density: 'compact', height: 44, color: 'secondary' },
  VTextField: field,
  VTextarea: { ...field, autoGrow: true, rows: 2 },
  VFileInput: { ...field, prependIcon: '', prependInnerIcon: '$file' },
  VNumberInput: { ...field, controlVariant: 'hidden' },
  VSelect: list,
  VAutocomplete: { ...list, autoSelectFirst: true },
  VCheckbox: { density: 'compact', hideDetails: true, color: 'secondary' },
  VSwitch: { hideDetails: true, color: 'secondary' },
  VSlider: { hideDetails: true, color: 'secondary', thumbSize: 22, trackSize: 6 },
  VList: { density: 'compact' },
  VDialog: { scrollable: true },
  VExpansionPanels: { elevation: 0, static: true, ripple: false },
}

// What the library's controls say by themselves; English it has within.
const own = language === 'en' ? undefined : (await import('vuetify/lib/locale/es.js')).default

/** The library in our theme. MainBtn is the button for the next thing to do. */
export const vuetify = () =>
  createVuetify({
    aliases: { MainBtn: VBtn },
    theme: { defaultTheme: 'day', themes: { day, night } },
    icons: { defaultSet: 'mdi', aliases: icons, sets: { mdi } },
    defaults,
    locale: { locale: language, messages: own && { [language]: own } },
  })
