/** Says what of a figure is in view, for those who do not see that it was zoomed or moved. */
import { onBeforeUnmount, watch, type Ref } from 'vue'
import type { RenderedFigure } from '@/render/figure'
import type { Layout } from '@/render/layout/figure'
import { axisText } from '@/kinds/summary'
import { useAnnouncer } from '@/stores/announcer'

/** After so long without a move. */
const SAYS_AFTER_MS = 700

export function useSayingView(
  figure: () => RenderedFigure | null,
  layout: Readonly<Ref<Layout | null>>,
  isHome: Readonly<Ref<boolean>>,
): void {
  const said = useAnnouncer()
  let saying = 0

  watch(
    () => (isHome.value ? '' : JSON.stringify([layout.value?.x.domain, layout.value?.y.domain])),
    (now) => {
      clearTimeout(saying)
      const shown = figure()
      if (!shown || layout.value?.isTurned) return
      saying = window.setTimeout(() => {
        const { x, y } = layout.value!
        const inView = ([axis, { domain }]: [typeof shown.answer.x, typeof x]): string =>
          axisText({ ...axis, low: domain[0], high: domain[1] })
        said.say(
          now
            ? `In view: ${inView([shown.answer.x, x])} ${inView([shown.answer.y, y])}`
            : 'All of it is in view.',
        )
      }, SAYS_AFTER_MS)
    },
  )
  onBeforeUnmount(() => clearTimeout(saying))
}
