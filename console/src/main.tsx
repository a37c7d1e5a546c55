document.title = "Calm Step";
