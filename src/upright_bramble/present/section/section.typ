#let d = json(bytes(sys.inputs.data))
#let formulas = eval("(" + d.maths.map(m => "$" + m + "$, ").join("", default: "") + ")")
#let ink = rgb("#241B2F")
#let berry = rgb("#6D2E6B")
#let mist = rgb("#ECE7EF")
#let quiet = rgb("#6F6679")
#let tint = (pass: rgb("#2F7D5B"), warning: rgb("#8A5F0A"), waived: rgb("#8A5F0A"), incomplete: rgb("#8A5F0A"), fail: rgb("#B8442B"))
#let word(w) = text(fill: tint.at(w, default: ink), weight: "bold", w)
#set document(title: d.title, date: none)
#set page(paper: "a4", margin: (x: 16mm, top: 14mm, bottom: 14mm), footer: context [#set text(8pt, fill: quiet); #text(d.title) #h(1fr) #counter(page).display("1 / 1", both: true)])
#set text(size: 8.5pt, fill: ink, lang: "en")
#set par(leading: 0.5em, spacing: 0.75em)
#show heading.where(level: 1): it => block(above: 1.2em, below: 0.6em, width: 100%, stroke: (bottom: 1pt + berry), inset: (bottom: 3pt), text(12pt, it.body))
#show heading.where(level: 2): it => block(above: 1.2em, below: 0.45em, text(9.5pt, fill: berry, it.body))
#set table(stroke: none, inset: (x: 3pt, y: 2pt), fill: (_, y) => if y > 0 and calc.even(y) { mist })
#let head(..cells) = table.header(..cells.pos().map(c => text(weight: "bold", c)), table.hline(stroke: 0.5pt + quiet))
#let bar(c) = box(width: 24pt, height: 5pt, stroke: 0.4pt + quiet, align(left, rect(width: c.number * 24pt, height: 5pt, fill: tint.at(c.word), stroke: none)))
#block(stroke: 0.8pt + ink, inset: 7pt, width: 100%, grid(
  columns: (1fr, auto), column-gutter: 18pt,
  [#text(15pt, weight: "bold", d.title) \ #text(fill: quiet, "cross-section, " + d.depth + " report; " + d.code)],
  grid(columns: 2, column-gutter: 8pt, row-gutter: 3pt, ..d.about.pairs().map(p => (text(fill: berry, p.at(0)), text(p.at(1)))).flatten()),
))
#if d.status != "" { text(11pt, word(d.status)) } #text(11pt, d.verdict). #text(d.axis + ".")
#if d.gaps.len() + d.waived.len() > 0 {
  grid(
    columns: (auto, 1fr), column-gutter: 8pt, row-gutter: 4pt,
    ..d.gaps.map(g => (text(fill: tint.incomplete, weight: "bold", "not verified"), text(g.topic + (if g.by != "" { " (" + g.by + ")" } else { "" }) + ": " + g.reason))).flatten(),
    ..d.waived.map(w => (text(fill: tint.waived, weight: "bold", "waived"), text(w.topic + ": " + w.reason))).flatten(),
  )
}
#if d.pictures.len() > 0 { align(center, image(bytes(d.pictures.at(0)), format: "svg", width: 74%)) }
= Inputs
#table(columns: (auto, 1fr), ..d.inputs.flatten().map(c => text(c)))
#if d.sets != none [
  = Sets of forces
  #table(
    columns: (auto,) * (d.sets.head.len() - 1) + (1fr,), align: (x, _) => if x == 0 or x == d.sets.head.len() - 1 { left } else { right },
    head(..d.sets.head), ..d.sets.rows.flatten().map(c => text(c)),
  )
]
#if d.checks.len() > 0 [
  = Checks
  #table(
    columns: (auto, 1fr, auto, auto, auto, auto, auto, auto), align: (left, left, right, right, left, right, horizon, left),
    head("", "check", "demand", "limit", "", "ratio", "", "clause"),
    ..d.checks.map(c => (
      word(c.word), [#text(c.name + (if c.by != "" { " (" + c.by + ")" } else { "" })) #if c.note != "" [\ #text(7.5pt, fill: tint.at(c.word), c.note)]],
      text(c.demand), text(c.limit), text(c.unit), text(c.ratio), bar(c), text(7.5pt, fill: berry, c.clause),
    )).flatten(),
  )
]
= Values
#columns(2, gutter: 14pt)[
  #for g in d.values [
    == #text(g.heading)
    #table(
      columns: (1fr, auto, auto, auto, auto), align: (left, left, right, left, left),
      ..g.rows.map(v => (text(v.what), text(v.symbol), text(v.value), text(v.unit), text(7pt, fill: berry, v.clause))).flatten(),
    )
  ]
]
#if d.pictures.len() > 1 [
  = Curves
  #image(bytes(d.pictures.at(1)), format: "svg", width: 100%)
]
#if d.workings.len() > 0 [
  = Derivations
  #for w in d.workings [
    == #text(w.name + (if w.by != "" { " (" + w.by + ")" } else { "" }))
    #table(
      columns: (1fr, auto, 34%), align: (left, right, left), fill: none,
      ..w.lines.map(l => ([#formulas.at(l.math)], text("= " + l.value), [#text(7.5pt, l.notes) #text(7.5pt, fill: berry, l.clause)])).flatten(),
    )
  ]
]
