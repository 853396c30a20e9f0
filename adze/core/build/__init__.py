"""What is built: strands, materials, parts, rods. Imports basics, soil, tables, animals, plan, ground."""
