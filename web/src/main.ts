document.title = 'Vectum'
