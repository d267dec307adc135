"""The week: problem in, plan out."""
