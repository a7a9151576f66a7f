"""The local face engine: new surfaces for some faces of a solid, neighbours follow, topology stays.

surfaces   carrier surfaces as signed distances
topology     a solid read once: who touches whom, how faces meet
plan       what was asked, and the new surface of every face that changes
planning   from the one to the other
following  neighbours that come along
fillets     which faces are fillets, and on what they touch
chamfers   which faces are chamfers, and where they go with their walls
rolling    where fillets go when their supports move; canal for those along any path
corners    where the vertices go
edge_curves    where the edges go
soundness  checks on what was rebuilt
engine     all of it in one call
closing    faces taken away, the gap closed by their neighbours
between    the matter that a push adds or takes, where the topology changes
spandrels  the same between an edge and the ball that rolls along it
"""
