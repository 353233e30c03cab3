#let d = json("sheet.json")
#let ink = rgb("#1d2329")
#let muted = rgb("#59626b")
#let hair = rgb("#c9c2b2")
#let petrol = rgb("#0d5c66")

#set document(title: d.title)
#set page(
  paper: "a4",
  flipped: d.wide,
  margin: (x: 15mm, top: 14mm, bottom: 16mm),
  footer: context [
    #set text(size: 7.5pt, fill: muted)
    #line(length: 100%, stroke: 0.4pt + hair)
    #v(-5pt)
    #d.foot #h(1fr) #counter(page).display("1 / 1", both: true)
  ],
)
#set text(font: ("B612", "Libertinus Serif"), size: if d.wide or d.dense { 8pt } else { 9.3pt }, fill: ink, lang: d.language, hyphenate: false)
#set par(leading: 0.55em, spacing: 0.8em)
#set table(stroke: none, inset: (x: 4pt, y: 3.2pt))

#let fills = (petrol.lighten(82%), rgb("#efece2"), petrol.lighten(60%), rgb("#f6f1d8"), white)

#let marked(cell) = {
  if cell.mark != "" [#box(baseline: 18%, image(cell.mark + ".svg", height: 0.95em))#h(0.35em)]
  if cell.strong [*#cell.text*] else [#cell.text]
}

#let show-block(b) = {
  if b.kind == "heading" {
    if b.level == 1 {
      block(above: 1.3em, below: 0.6em, sticky: true, text(size: 1.2em, weight: "bold", b.text))
    } else {
      block(above: 1em, below: 0.45em, sticky: true, text(weight: "bold", b.text))
    }
  } else if b.kind == "paragraph" {
    if b.tone == "note" { text(size: 0.86em, fill: muted, b.text); parbreak() }
    else if b.tone == "lead" { block(text(size: 1.12em, b.text)) }
    else if b.tone == "caution" {
      block(width: 100%, inset: (left: 8pt, rest: 5pt), stroke: (left: 3pt + rgb("#d08a10")), breakable: false, b.text)
    } else { par(b.text) }
  } else if b.kind == "told" {
    for row in b.rows {
      grid(columns: (if b.ticks { 14pt } else { 9pt }, 1fr),
        if b.ticks { box(width: 8pt, height: 8pt, stroke: 0.7pt + ink, baseline: 1pt) } else { [–] },
        block(below: 0.5em, row))
      v(-0.35em)
    }
    v(0.4em)
  } else if b.kind == "lines" {
    let cells = b.rows.map(r => block(width: 100%, stroke: (bottom: 0.4pt + hair), inset: (y: 2.4pt), breakable: false,
      grid(columns: (auto, 1fr), column-gutter: 8pt, text(fill: muted, r.at(0)),
        align(right)[#r.at(1)#if r.at(2) != "" [ #box(text(size: 0.8em, fill: muted, r.at(2)))]])))
    grid(columns: (1fr,) * b.columns, column-gutter: 14pt, align: bottom, ..cells)
    v(0.3em)
  } else if b.kind == "table" {
    set text(size: if b.small { 0.86em } else { 1em })
    if b.caption != "" { block(below: 0.3em, above: 0.8em, sticky: true, text(weight: "bold", b.caption)) }
    let cols = if b.widths.len() > 0 { b.widths.map(w => w * 1fr) } else { (auto,) * (b.heads.len() - 1) + (1fr,) }
    table(
      columns: cols,
      align: (x, y) => if b.right.contains(x) { right } else { left },
      table.header(..b.heads.map(h => table.cell(stroke: (bottom: 0.8pt + ink), text(size: 0.86em, fill: muted, h)))),
      ..b.rows.map(r => r.map(c => table.cell(stroke: (bottom: 0.35pt + hair), marked(c)))).flatten(),
    )
  } else if b.kind == "drawing" {
    block(breakable: false, width: 100%, {
      align(center, image(b.file, height: b.height * 1mm, alt: b.words))
      if b.words != "" { align(center, text(size: 0.8em, fill: muted, b.words)) }
    })
  } else if b.kind == "bar" {
    let whole = b.parts.map(p => calc.max(p.length, 0)).sum(default: 1)
    block(breakable: false, width: 100%, {
      text(size: 0.86em, fill: muted, b.title)
      v(-0.55em)
      grid(columns: b.parts.map(p => calc.max(p.length, 0) / whole * 1fr), rows: 16pt,
        ..b.parts.enumerate().map(((n, p)) => rect(width: 100%, height: 100%, stroke: 0.7pt + ink, inset: 2pt,
          fill: fills.at(calc.rem(n, fills.len())), align(center + horizon, box(text(size: 0.74em, weight: "bold", p.text))))))
      if b.legend {
        v(-0.3em)
        set text(size: 0.82em)
        b.parts.enumerate().map(((n, p)) => [#box(width: 7pt, height: 7pt, stroke: 0.5pt + ink,
          fill: fills.at(calc.rem(n, fills.len()))) #p.label]).join(h(14pt))
      }
    })
  } else if b.kind == "pictures" {
    grid(columns: (1fr,) * b.columns, column-gutter: 8pt, row-gutter: 8pt,
      ..b.rows.map(p => block(breakable: false, width: 100%, {
        image(p.file, width: 100%, height: 42mm, fit: "cover")
        v(-0.6em)
        text(size: 0.8em, fill: muted, p.words)
      })))
  } else if b.kind == "sign" {
    v(1.4em)
    grid(columns: (1fr,) * b.rows.len(), column-gutter: 20pt,
      ..b.rows.map(r => block(breakable: false, width: 100%, {
        box(height: 13pt, align(bottom, text(weight: "bold", r.at(1))))
        v(-0.9em)
        line(length: 100%, stroke: 0.7pt + ink)
        v(-0.7em)
        text(size: 0.8em, fill: muted, r.at(0))
      })))
  }
}

#block(below: 0.4em, text(size: 1.7em, weight: "bold", d.title))
#for line in d.under { block(above: 0.3em, below: 0.3em, text(fill: muted, line)) }
#line(length: 100%, stroke: 0.9pt + ink)
#for b in d.blocks { show-block(b) }
