"""Everything that is computed: values in, values out. No Qt, no files but the tables shipped beside the code."""
