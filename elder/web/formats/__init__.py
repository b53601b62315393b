"""Reading and writing open formats. No Django here: text in, values out."""
