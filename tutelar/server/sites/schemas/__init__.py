"""What the API takes and gives, as types, a module a stage; the web's types are generated from them."""
