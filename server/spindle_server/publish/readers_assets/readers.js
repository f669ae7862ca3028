// Readers' pages work without this; it remembers the unit, reads charts off and searches.
(() => {
  'use strict'
  const newtons = document.getElementById('newtons')
  try {
    newtons.checked = localStorage.getItem('newtons') === '1'
    newtons.addEventListener('change', () => localStorage.setItem('newtons', newtons.checked ? '1' : '0'))
  } catch { /* A browser that keeps nothing. */ }

  const digits = (value, u) => {
    const places = u > 0 ? Math.max(0, -Math.floor(Math.log10(u))) : 2
    return value.toLocaleString('en-US', { minimumFractionDigits: places, maximumFractionDigits: places })
  }
  const at = (xs, values, x) => {
    const right = xs.findIndex((one) => one >= x)
    if (right < 0 || x < xs[0]) return null
    const left = Math.max(0, right - 1)
    if (values[left] === null || values[right] === null) return null
    const share = xs[right] > xs[left] ? (x - xs[left]) / (xs[right] - xs[left]) : 0
    return values[left] + share * (values[right] - values[left])
  }
  for (const figure of document.querySelectorAll('figure.chart')) {
    const data = JSON.parse(document.getElementById(figure.dataset.chart).textContent)
    const svg = figure.querySelector('svg')
    const out = figure.querySelector('.reading')
    const line = document.createElementNS('http://www.w3.org/2000/svg', 'line')
    line.setAttribute('y1', data.top)
    line.setAttribute('y2', data.bottom)
    line.setAttribute('stroke', '#4d5c62')
    line.setAttribute('visibility', 'hidden')
    svg.append(line)
    svg.setAttribute('tabindex', '0')
    svg.setAttribute('role', 'slider')
    svg.setAttribute('aria-label', `Read off at ${data.x_head}: arrow keys move`)
    svg.setAttribute('aria-valuemin', data.x[0])
    svg.setAttribute('aria-valuenow', (data.x[0] + data.x[1]) / 2)
    svg.setAttribute('aria-valuemax', data.x[1])
    const read = (x) => {
      const px = data.left + ((x - data.x[0]) / (data.x[1] - data.x[0])) * (data.right - data.left)
      line.setAttribute('x1', px)
      line.setAttribute('x2', px)
      line.setAttribute('visibility', 'visible')
      const said = `at ${digits(x, (data.x[1] - data.x[0]) / 200)} ${data.x_unit}`
      svg.setAttribute('aria-valuenow', x)
      svg.setAttribute('aria-valuetext', said)
      out.replaceChildren()
      const first = document.createElement('span')
      first.textContent = said
      out.append(first)
      for (const one of data.series) {
        const y = at(one.x, one.y, x)
        const u = at(one.x, one.u, x)
        const span = document.createElement('span')
        const text = y === null ? 'not measured there' : `${digits(y, u)}${u > 0 ? ` ± ${digits(u, u)}` : ''} ${data.y_unit}`
        span.style.color = one.color
        span.textContent = one.name ? `${one.name}: ${text}` : text
        out.append(span)
      }
      figure.dataset.at = x
    }
    svg.addEventListener('pointermove', (event) => {
      const box = svg.getBoundingClientRect()
      const px = ((event.clientX - box.left) / box.width) * data.width
      const share = (px - data.left) / (data.right - data.left)
      if (share >= 0 && share <= 1) read(data.x[0] + share * (data.x[1] - data.x[0]))
    })
    svg.addEventListener('keydown', (event) => {
      const step = { ArrowRight: 1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[event.key]
      if (!step) return
      event.preventDefault()
      const span = data.x[1] - data.x[0]
      const now = Number(figure.dataset.at ?? data.x[0] + span / 2)
      read(Math.min(data.x[1], Math.max(data.x[0], now + (step * span) / 100)))
    })
  }

  const find = document.getElementById('find')
  if (find) {
    find.form.hidden = false
    const list = document.getElementById('list')
    const here = [...list.children]
    let all = null
    const kinds = [...document.querySelectorAll('.kind')]
    const show = async () => {
      const words = find.value.toLowerCase().split(/\s+/).filter(Boolean)
      const wanted = kinds.filter((one) => one.checked).map((one) => one.value)
      const grade = document.getElementById('grade')?.value ?? ''
      if (!words.length && wanted.length === kinds.length && !grade) {
        list.replaceChildren(...here)
        document.getElementById('found').textContent = ''
        return
      }
      try {
        all ??= await (await fetch('search.json')).json()
      } catch {
        // Opened from a disk, where nothing can be fetched: what is on this page is searched.
        all = here.filter((one) => one.dataset.kind).map((one) => ({
          path: one.querySelector('a').getAttribute('href'), name: one.querySelector('a').textContent,
          said: one.querySelector('.said').textContent, kind: one.dataset.kind, grade: one.dataset.grade,
        }))
      }
      const found = all.filter((one) => wanted.includes(one.kind) && (!grade || one.grade === grade) &&
        words.every((word) => `${one.name} ${one.said}`.toLowerCase().includes(word)))
      list.replaceChildren(...found.slice(0, 200).map((one) => {
        const item = document.createElement('li')
        const link = document.createElement('a')
        link.href = one.path
        link.textContent = one.name
        const said = document.createElement('span')
        said.className = 'said'
        said.textContent = one.said
        item.append(link, said)
        return item
      }))
      document.getElementById('found').textContent = `${found.length} found`
    }
    find.form.addEventListener('submit', (event) => event.preventDefault())
    find.form.addEventListener('input', show)
  }
})()
