"""The science and the rules of Pelk: pure functions on plain numbers, no Django.

Rooms, from the ground up; a room may use those above it in this list, never below:

``base``        errors, quantities, sources, figures, elements, arithmetic, integer programmes
``materials``   what a material is and holds; units, weighings, bags, cost, feeding styles
``plans``       what a grower asks for: parts, doses, batch, conditions
``salts``       what a meter reads, what plants stand; metals over the years
``acid_base``   charge curves, acids, water, where charges settle
``release``     nitrogen, phosphorus, lime and sulfur: what comes free, and how fast
``crops``       what crops want, and how they are fed
``vessels``     pots, volumes, air and water, loads, the order of work
``simulation``  a heap through time: one stepper for a line and an ensemble; what readings teach
``evaluation``  the one door: a plan and a shelf in, an `Evaluation` out
``old_soil``    last year's soil: questions, judgement, prescription
``lab``         laboratory reports, feed blends, what does the same job
``advice``      doses for a pH and a crop, jar tests, feeding plans
``curing``      what to do while a heap cures; the heap to train on
"""
