"""The exported program tried out where nothing can break: run in a process of its own, its pins turned into light."""
