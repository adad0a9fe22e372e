//! What must hold of the computation as a whole, over real volumes of data: it agrees with the independent values, and its
//! parts agree with one another. Only tests live here: core itself knows no file and no demo world.
