"""Jobs: rows and access (`models`), the document they make (`document`), every change to it
(`editing`, `history`), the house as the library takes it (`house`), what the screen shows
(`presenting`), thin views and forms."""
