"""The science and the rules of Pelk: pure functions on plain numbers, no Django.

Reading order
-------------
What a number is
    ``errors`` ``guards`` ``quantities`` ``sources`` ``figures`` ``elements`` ``tables``
What a grower has
    ``measures`` units, hands, area rates; ``materials``; ``crops``; ``vessels``, ``shapes``;
    ``plans``, ``recipe_edits`` and ``plan_checks``; ``schools`` how they like to work
    ``analysis`` own values over the library; ``weighing``; ``lab_reports``, ``simulated_lab``;
    ``stock`` bags and unit prices; ``release`` of one material; ``jobs`` what does the same
Volumes and weights
    ``volumes`` loss on blending, topping up; ``doses``; ``structure`` water and air by
    height; ``drainage``; ``loads``; ``cost``
Acid and base at rest
    ``buffering`` the charge curve of a blend; ``balance`` where charges come to rest;
    ``acidity`` what lime, sulfur and acids do in the end; ``acids``; ``water``
What goes on over time, each written once for floats and arrays
    ``lanes`` one set of equations for a line and a fan; ``rates`` temperature, moisture,
    pH; ``life`` at the start; ``ph_of_charge``; ``grains`` lime and sulfur as spheres;
    ``organic`` nitrogen by pools; ``phosphorus``; ``processes`` nitrogen and warmth; ``heap`` what lies there;
    ``stepper`` the one integrator; ``course`` a heap through time; ``fan`` what is not
    known; ``refit`` what readings teach; ``jars``
What comes of it
    ``nutrients`` totals; ``availability`` what comes free when; ``salts``; ``metals``;
    ``demand`` what the crop takes; ``curing`` when it is ready; ``cure_tasks``; ``dosing`` the dose for a
    pH on a day; ``aim`` beside a bed table; ``equivalents``; ``feeding``; ``blends`` of dry
    feeds; ``inspection`` and ``revival`` of old soil
Put together
    ``forecast``; ``ledger``; ``cautions`` the published list; ``checks`` judgements;
    ``headlines`` figures with their why; ``evaluate`` the one door; ``programme``,
    ``contributions``, ``part_choice`` and ``proposals``; ``report`` the open format
"""
