"""Before and after: is the change larger than the scatter?"""
