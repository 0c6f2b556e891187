"""Words and looks: messages in the person's language, figures by locale, times in their zone, the theme."""
