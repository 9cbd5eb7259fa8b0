"""The science and the rules of Pelk: pure functions on plain numbers, no Django.

Reading order
-------------
``errors``      what cannot be answered, in a sentence
``quantities``  what the numbers are: name, symbol, unit, possible range
``sources``     who says so: ``Source``, ``Citation``, ``@cites``
``figures``     a number that can be asked why
``elements``    atomic masses; oxide and element
``measures``    units of dose, kitchen measures, handfuls, weight and volume
``materials``   what a material is and holds; the shipped library
``crops``       crop groups: pH bands, salts, season demand
``vessels``     pots by true volume
``plans``       what a grower asks for: batch, parts, doses
``volumes``     parts into loose and mixed litres; blending loss; settling
``doses``       a dose as typed into grams, millilitres and g/L
``structure``   water a mix holds after draining, wet weight
``loads``       a batch cut into barrow loads
``nutrients``   totals of N, P, K, Ca, Mg, S per litre of mix
``buffering``   the charge curve of a blend: pH from base and acid
``balance``     where the charges come to rest, and how sure that is
``acidity``     what lime, sulfur and acids do to that curve in the end
``cautions``    the published list of cautions as rules
``checks``      judgements where practice goes wrong, caught by arithmetic
``evaluate``    the one door: a plan in, an ``Evaluation`` out
"""
