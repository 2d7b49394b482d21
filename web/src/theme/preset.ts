/** PrimeVue's tokens, set to our sheets: paper, ink, iris; small radii, no shadows but where something floats. */
import { definePreset } from '@primeuix/themes';
import Aura from '@primeuix/themes/aura';

const iris = {
  50: '#f4f2fc', 100: '#ebe7f8', 200: '#d3cbf2', 300: '#ab9bff', 400: '#8a74e6', 500: '#5a3fd0',
  600: '#4d34b8', 700: '#3f2b97', 800: '#322376', 900: '#261b58', 950: '#181138',
}; // prettier-ignore

const scheme = {
  primary: { color: 'var(--iris)', contrastColor: 'var(--iris-ink)', hoverColor: 'var(--iris)', activeColor: 'var(--iris)' },
  content: { background: 'var(--raised)', borderColor: 'var(--rule)', color: 'var(--ink)', hoverBackground: 'var(--iris-wash)', hoverColor: 'var(--ink)' },
  text: { color: 'var(--ink)', mutedColor: 'var(--ink-2)', hoverColor: 'var(--ink)', hoverMutedColor: 'var(--ink-2)' },
  highlight: { background: 'var(--iris-wash)', color: 'var(--ink)', focusBackground: 'var(--iris-wash)', focusColor: 'var(--ink)' },
  formField: {
    background: 'transparent', borderColor: 'var(--rule)', hoverBorderColor: 'var(--ink-2)', focusBorderColor: 'var(--iris)',
    color: 'var(--ink)', placeholderColor: 'var(--ink-2)', iconColor: 'var(--ink-2)', shadow: 'none',
  },
  overlay: {
    select: { background: 'var(--raised)', borderColor: 'var(--rule)', color: 'var(--ink)' },
    popover: { background: 'var(--raised)', borderColor: 'var(--rule)', color: 'var(--ink)' },
    modal: { background: 'var(--raised)', borderColor: 'var(--rule)', color: 'var(--ink)' },
  },
  list: {
    option: { focusBackground: 'var(--iris-wash)', focusColor: 'var(--ink)', selectedBackground: 'var(--iris-wash)', selectedColor: 'var(--ink)', selectedFocusBackground: 'var(--iris-wash)', selectedFocusColor: 'var(--ink)', color: 'var(--ink)' },
  },
}; // prettier-ignore

export const Sheet = definePreset(Aura, {
  primitive: { borderRadius: { none: '0', xs: '2px', sm: '2px', md: '3px', lg: '3px', xl: '4px' } },
  semantic: { primary: iris, colorScheme: { light: scheme, dark: scheme } },
});
