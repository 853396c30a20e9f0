"""One page of the workbench for each stage: its template, view, layout and scripts."""
