/** A page that others open: it shows what is shared, and changes nothing. */
import { createApp } from 'vue'
import type { Shared } from '@/api/types'
import '@/ui/theme/base.css'
import './fonts.css'
import './viewer.css'
import { showPalette } from '@/ui/theme/palette'
import Viewer from './Viewer.vue'

const GONE = 'This page is not there any more: it was withdrawn, or its time is over.'

/** What is shared stands in the page itself, or at the address that the page has. */
async function find(): Promise<Shared | string> {
  const inside = document.getElementById('shared')?.textContent
  if (inside) return JSON.parse(inside) as Shared
  const id = location.pathname.split('/').at(-1) ?? ''
  try {
    const response = await fetch(`/api/shared/${encodeURIComponent(id)}`)
    return response.ok ? ((await response.json()) as Shared) : GONE
  } catch {
    return 'The page cannot be reached. Try again later.'
  }
}

showPalette()
void find().then((found) => createApp(Viewer, { found }).mount('#viewer'))
