// Lays out what document.json holds: the blocks of a document tree, in order. It decides nothing of what is said.
#let given = json("document.json")
#let ink = rgb(given.colours.ink)
#let quiet = rgb(given.colours.quiet)
#let brick = rgb(given.colours.brick)
#let hairline = rgb(given.colours.hairline)
#let wash = rgb(given.colours.found_wash)
#let panel = rgb(given.colours.panel)

#set document(title: given.title, date: none)
#set page(
  paper: given.paper,
  margin: (x: 58pt, top: 48pt, bottom: 52pt),
  footer: context {
    set text(8pt, fill: quiet)
    grid(columns: (1fr, auto), column-gutter: 12pt, given.foot, counter(page).display())
  },
)
#set text(font: ("Inter", "DejaVu Sans"), size: 8.9pt, fill: ink, lang: "en", region: "gb", hyphenate: false)
#set par(leading: 0.6em, spacing: 0.76em, justify: false)
#show math.equation: set text(font: ("New Computer Modern Math", "DejaVu Sans"), size: 10pt)
#show math.equation: set align(left)
#show heading.where(level: 1): it => block(below: 14pt, text(20pt, weight: 600, it.body))
#show heading.where(level: 2): it => block(above: 20pt, below: 8pt, width: 100%, breakable: false, {
  line(length: 100%, stroke: 0.6pt + hairline)
  v(2pt)
  text(14pt, weight: 600, it.body)
})
#show heading.where(level: 3): it => block(above: 13pt, below: 6pt, text(10pt, weight: 600, it.body))
#show heading.where(level: 4): it => block(above: 10pt, below: 5pt, text(8pt, weight: 600, fill: quiet, tracking: 0.06em, upper(it.body)))
#show math.equation.where(block: true): set block(above: 5pt, below: 5pt)
#set figure(numbering: none, supplement: none, gap: 6pt)
#show figure: set align(left)
#show figure.caption: it => block(width: 100%, align(left, text(8.4pt, fill: quiet, it.body)))
#show figure.where(kind: table): set figure.caption(position: top)
#set table(stroke: none, inset: (left: 0pt, right: 10pt, y: 3.6pt))

#let paragraph(block-given) = {
  let style = block-given.style
  if style == "statement" {
    block(width: 100%, breakable: false, fill: wash, radius: 5pt, inset: 9pt, above: 6pt, below: 9pt, text(9.4pt, block-given.text))
  } else if style == "quiet" {
    par(text(8.6pt, fill: quiet, block-given.text))
  } else if style == "problem" {
    par(text(fill: brick, block-given.text))
  } else {
    par(block-given.text)
  }
}

#let grid-of(block-given) = {
  show figure: set block(breakable: block-given.rows.len() > 12)
  figure(
    kind: table,
    caption: block-given.caption,
    text(8.8pt, {
      set par(leading: 0.55em)
      table(
        columns: block-given.shares.map(share => share * 1fr),
        align: (column, _) => if column in block-given.right { right + top } else { left + top },
        stroke: (_, row) => (bottom: if row == 0 { 0.8pt + ink } else { 0.5pt + hairline }),
        table.header(..block-given.head.map(cell => text(weight: 600, cell))),
        ..block-given.rows.flatten(),
      )
    }),
  )
}

#let one(block-given) = {
  let kind = block-given.kind
  if kind == "heading" { heading(level: block-given.level, block-given.text) }
  if kind == "paragraph" { paragraph(block-given) }
  if kind == "bullets" { list(marker: [•], indent: 2pt, body-indent: 7pt, spacing: 0.6em, ..block-given.items) }
  if kind == "code" {
    block(width: 100%, fill: panel, inset: 8pt, text(6.4pt, font: ("DejaVu Sans Mono",), raw(block-given.text, block: true)))
  }
  if kind == "formula" {
    for line in block-given.lines {
      math.equation(block: true, alt: line.says, eval(line.math, mode: "math"))
    }
  }
  if kind == "figure" { figure(image(block-given.file, width: 66%, alt: block-given.says), caption: block-given.caption) }
  if kind == "table" { grid-of(block-given) }
}

#for block-given in given.blocks { one(block-given) }
