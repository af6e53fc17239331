module errortexts.example/errortexts

go 1.19
