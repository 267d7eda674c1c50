/** What Vuetify is told of the interface: its colours by role, and how its components look here. */
import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'
import 'vuetify/styles'
import { PALETTE } from './palette'

const theme = (dark: boolean) => {
  const roles = dark ? PALETTE.dark : PALETTE.light
  return {
    dark,
    colors: {
      background: roles.ground,
      surface: roles.raised,
      primary: roles.accent,
      secondary: roles['soft-ink'],
      error: roles.caution,
      'on-background': roles.ink,
      'on-surface': roles.ink,
      'surface-variant': roles.ink,
      'on-surface-variant': roles.ground,
      'on-primary': roles['on-accent'],
    },
  }
}

const FIELD = {
  variant: 'outlined',
  density: 'compact',
  hideDetails: true,
  color: 'primary',
  singleLine: true,
}

export const vuetify = createVuetify({
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  theme: { defaultTheme: 'system', themes: { light: theme(false), dark: theme(true) } },
  defaults: {
    VBtn: { variant: 'outlined', rounded: '6', elevation: 0, class: 'text-none' },
    VTextField: FIELD,
    VTextarea: { ...FIELD, autoGrow: false, noResize: false },
    VSelect: { ...FIELD, menuProps: { transition: false } },
    VAutocomplete: { ...FIELD, menuProps: { transition: false } },
    VDialog: { transition: false },
    VTooltip: { transition: false },
    VSlider: {
      hideDetails: true,
      color: 'primary',
      density: 'compact',
      thumbSize: 14,
      trackSize: 3,
    },
    VCheckbox: { hideDetails: true, density: 'compact', color: 'primary' },
    VExpansionPanels: { flat: true, static: true },
    VCard: { flat: true, rounded: '6' },
    VMenu: { offset: 4, transition: false },
    VProgressLinear: { color: 'primary', height: 4, rounded: true },
    VColorPicker: { elevation: 0, hideInputs: false },
  },
})
