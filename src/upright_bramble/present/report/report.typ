#let d = json(bytes(sys.inputs.data))
#let brief = d.depth == "brief"
#let formulas = eval("(" + d.maths.map(m => "$" + m + "$, ").join("", default: "") + ")")
#let ink = rgb("#241B2F")
#let berry = rgb("#6D2E6B")
#let mist = rgb("#ECE7EF")
#let quiet = rgb("#6F6679")
#let tint = (pass: rgb("#2F7D5B"), warning: rgb("#8A5F0A"), waived: rgb("#8A5F0A"), incomplete: rgb("#8A5F0A"), fail: rgb("#B8442B"), note: ink)
#let word(w) = text(fill: tint.at(w, default: ink), weight: "bold", w)
#set document(title: d.mark + ": " + d.title, date: none)
#set page(
  paper: "a4",
  margin: if brief { (x: 16mm, top: 14mm, bottom: 14mm) } else { (x: 18mm, top: 18mm, bottom: 18mm) },
  footer: context [#set text(8pt, fill: quiet); #d.mark #h(1fr) #counter(page).display("1 / 1", both: true)],
)
#set text(size: if brief { 8.5pt } else { 9pt }, fill: ink, lang: "en")
#set par(leading: 0.5em, spacing: 0.75em)
#show heading.where(level: 1): it => block(above: 1.2em, below: 0.6em, width: 100%, stroke: (bottom: 1pt + berry), inset: (bottom: 3pt), text(13pt, it.body))
#show heading.where(level: 2): it => block(above: 1.4em, below: 0.45em, text(10.5pt, fill: berry, it.body))
#show heading.where(level: 3): it => block(above: 1em, below: 0.3em, text(9.5pt, it.body))
#set table(stroke: none, inset: (x: 3pt, y: 2.2pt), fill: (_, y) => if y > 0 and calc.even(y) { mist })
#let head(..cells) = table.header(..cells.pos().map(c => text(weight: "bold", c)), table.hline(stroke: 0.5pt + quiet))
#let bar(c) = box(width: 26pt, height: 5pt, stroke: 0.4pt + quiet, align(left, rect(width: calc.min(c.number, 1.0) * 26pt, height: 5pt, fill: tint.at(c.word), stroke: none)))

#let head-block = [
#block(stroke: 0.8pt + ink, inset: 7pt, width: 100%, grid(
  columns: (1fr, auto), column-gutter: 18pt,
  [#text(15pt, weight: "bold", d.mark + ": " + d.title) \ #text(fill: quiet, "calculation report, " + d.depth)],
  grid(columns: 2, column-gutter: 8pt, row-gutter: 3pt, ..d.about.pairs().map(p => (text(fill: berry, p.at(0)), text(p.at(1)))).flatten()),
))
#if d.left_out.len() > 0 { text(fill: tint.fail, "Left out of this report: " + d.left_out.join(", ") + ".") }
]
// a brief report is one page a beam, however much there is to say
#let fit(body) = layout(size => {
  let height = measure(block(width: size.width, body)).height
  let share = calc.min(1.0, size.height / height)
  if share < 1.0 { scale(share * 100%, origin: top + left, reflow: true, block(width: size.width, body)) } else { body }
})
#let single = d.beams.len() == 1
#if not (brief and single) { head-block }

#if d.beams.len() > 1 [
  = Summary
  #table(
    columns: (auto, 1fr, auto, auto, auto, auto), align: (left, left, left, left, right, left),
    head("beam", "title", "verdict", "governs", "ratio", "steel"),
    ..d.beams.map(b => (text(b.mark), text(b.title), [#word(b.status) #b.verdict], text(b.governing.id), text(b.governing.ratio), text(b.steel))).flatten()
  )
]
#if d.depth == "full" [
  #outline(depth: 1, title: "Contents")
]
#let plain(t) = table(
  columns: (auto,) * t.head.len(), align: (x, _) => if x == 0 { left } else { right },
  head(..t.head), ..t.rows.flatten().map(c => text(c)),
)
#let cells(c) = (
  word(c.word),
  [#text(c.id) #if c.note != "" [\ #text(7.5pt, fill: tint.at(c.word), c.note)] #if c.remark != "" [\ #text(7.5pt, style: "italic", c.remark)]],
  align(right, text(c.demand)), align(right, text(c.resistance)), text(c.unit), align(right, text(c.ratio)), align(horizon, bar(c)), text(7.5pt, fill: berry, c.clause),
)
#let covered(c) = grid(
  columns: (auto, 1fr), column-gutter: 8pt, row-gutter: 4pt,
  ..c.not_verified.map(n => (text(fill: tint.incomplete, weight: "bold", "not verified"), text(n.title + " (" + n.where + "): " + n.reason))).flatten(),
  ..c.waived.map(w => (text(fill: tint.waived, weight: "bold", "waived"), text(w.title + ": " + w.reason))).flatten(),
  text(fill: berry, "verified"), text(if c.verified.len() > 0 { c.verified.join(", ") } else { "nothing" }),
  text(fill: berry, "not covered"), text(c.out_of_scope.join("; ")),
)
#let beam-page(b) = [
  #if brief and single { head-block }
  #if d.beams.len() > 1 [= #text(b.mark + ": " + b.title)]
  #block[#text(11pt, word(b.status)) #text(11pt, b.verdict + "; " + b.governing.id + " governs with " + b.governing.ratio) \
  #text(b.governing.demand + " against " + b.governing.resistance + " " + b.governing.unit + " at x = " + b.governing.at + (if b.governing.clause != "" { ", " + b.governing.clause } else { "" })). #text(b.code + "; " + b.materials + ". " + b.steel + ".") #text(str(b.counts.pass) + " checks pass, " + str(b.counts.warning) + " with a warning, " + str(b.counts.fail) + " fail.")]
  #covered(b.covered)
  #if not brief [= Diagrams]
  #align(center, image(bytes(b.chart), format: "svg", width: if brief { 100% } else { 88% }))
  #if brief [== Bars] else [= Bars]
  #table(
    columns: (auto, auto, auto, 1fr, 1.2fr), head("span", "length", "bottom", "top, left to right", "stirrups"),
    ..b.along.map(s => (s.span, s.length, s.bottom, s.top, s.stirrups)).flatten().map(c => text(c))
  )
  #if b.at("more_spans", default: 0) > 0 { text("and " + str(b.more_spans) + " more spans, all in the result") }
  #grid(columns: (1.25fr, 1fr), column-gutter: 14pt)[
    == Utilisation summary
    #table(
      columns: (auto, 1fr, auto, auto), align: (left, left, right, left), head("", "topic", "ratio", "check"),
      ..b.worst.map(c => (word(c.word), text(c.title), text(c.ratio), [#text(c.id) #if c.remark != "" [\ #text(7.5pt, style: "italic", c.remark)]])).flatten()
    )
  ][
    #if b.messages.len() > 0 [
      == Messages
      #for m in b.messages [- #word(m.word) #text(m.text) #if m.where != "" { text(fill: quiet, "[" + m.where + "]") }]
      #if b.at("more_messages", default: 0) > 0 { text("and " + str(b.more_messages) + " more, all in the result") }
    ]
  ]
  #if not brief [
    = Inputs
    #text(fill: quiet)[Defaults are grey.]
    #columns(2, gutter: 16pt)[
      #for t in b.inputs [
        == #text(t.topic)
        #table(columns: (0.8fr, 1fr), fill: none, ..t.rows.map(r => (text(fill: if r.usual { quiet } else { ink }, r.name), text(fill: if r.usual { quiet } else { ink }, r.value))).flatten())
      ]
    ]
    = Forces
    #for p in b.peaks [
      == #text(p.title)
      #plain(p)
    ]
    == Longitudinal steel where bending requires most
    #plain(b.areas)
    == Reactions, greatest to smallest
    #plain(b.reactions)
    == Serviceability assumptions
    #plain(b.stages)
    #if b.levels != none [
      == Alike beams: greatest ratios by level
      #plain(b.levels)
    ]
    = Checks
    #set text(7.8pt)
    #columns(2, gutter: 12pt)[
      #for t in b.topics [
        == #text(t.title)
        #table(columns: (auto, 1fr, auto, auto, auto, auto, auto, 42pt), inset: (x: 2pt, y: 2pt), ..t.rows.map(cells).flatten())
      ]
    ]
    #set text(9pt)
    = Schedule
    #table(
      columns: (auto,) * 5 + (1fr, auto, auto), align: (x, _) => if x in (3, 6, 7) { right } else { left },
      head(..b.schedule.head), ..b.schedule.rows.flatten().map(c => text(c)),
    )
    #text(b.schedule.total). #text(b.quantities.map(q => q.at(0) + " " + q.at(1)).join("; ")).
  ]
  #if d.depth == "full" [
    = Derivations
    What carries the beam in every span and at every support, the other kinds where they govern, and all that fails. Lines of an earlier derivation are not repeated.
    #for w in b.derivations [
      #block(breakable: true)[
        == #text(w.id + " at x = " + w.at)
        #text(w.sought)
        #table(
          columns: (1fr, 34%), fill: none, inset: (x: 2pt, y: 3.2pt), align: (left + horizon, left + horizon),
          ..w.lines.map(l => (
            {
              set text(top-edge: "bounds", bottom-edge: "bounds")
              set par(leading: 6pt)
              [#formulas.at(l.math) $=$ #text(l.value)]
            },
            [#text(7.5pt, l.notes) #if l.clause != "" { text(7.5pt, fill: berry, l.clause) }],
          )).flatten()
        )
        #word(w.word) #text(weight: "bold", w.end) #text(fill: berry, w.clause) #if w.note != "" [\ #text(w.note)]
      ]
    ]
  ]
]
#for b in d.beams {
  if d.beams.len() > 1 or d.depth == "full" { pagebreak(weak: true) }
  if brief { fit(beam-page(b)) } else { beam-page(b) }
}
