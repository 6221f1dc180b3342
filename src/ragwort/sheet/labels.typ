// Labels of a sheet of envelopes: labels.json holds the outsides, then the cards, three lines each.
#let given = json("labels.json")
#set document(title: given.title, date: none)
#set page(paper: "a4", margin: 24pt)
#set text(font: ("Inter", "DejaVu Sans"), lang: "en", region: "gb")

#let label-of(lines) = box(width: 100%, height: 100%, inset: (right: 6pt, bottom: 6pt), box(
  width: 100%, height: 100%, stroke: 1pt + luma(180), inset: (x: 8pt, y: 12pt), clip: true,
  stack(spacing: 9pt, text(12pt, weight: 600, lines.at(0)), text(10pt, lines.at(1)), text(8pt, lines.at(2))),
))

#for part in given.parts {
  for page-of in part.chunks(given.columns * given.rows) {
    block(height: 100%, grid(
      columns: (1fr,) * given.columns, rows: (100% / given.rows,) * given.rows, ..page-of.map(label-of),
    ))
  }
}
