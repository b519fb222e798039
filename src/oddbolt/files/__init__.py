"""Files: the study file, captions in, reports and tables out."""
