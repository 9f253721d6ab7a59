import { LineChart } from 'echarts/charts'
import { GridComponent, MarkLineComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'

// Only what our charts use of the library comes into the page.
use([LineChart, GridComponent, MarkLineComponent, SVGRenderer])

export { init, type EChartsType } from 'echarts/core'
