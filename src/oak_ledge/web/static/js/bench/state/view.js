// The view: what the server answers about a placement, and all that the bench shows. The same fields as
// `PlacementView` in `flows/bench/view_models.py`, which says what each means; a test holds both together.

/**
 * @typedef {Object} View
 * @property {Object} asked
 * @property {Object} placement
 * @property {number} scale
 * @property {number|null} real_ppi
 * @property {number} trimmed
 * @property {Object} trimmed_sides
 * @property {number} uncovered
 * @property {number} kept
 * @property {number} stretch
 * @property {boolean} copied
 * @property {number[]|null} printed
 * @property {number[]|null} seen
 * @property {string} sentence
 * @property {Object[]} notes
 * @property {number} id
 * @property {Object} lying
 * @property {number[]} extent
 * @property {number[][]} outline
 * @property {number[]} photo_extent
 * @property {number[]} crop
 * @property {Object[]} stations
 * @property {Object} output
 * @property {number|null} about_bytes
 * @property {number[]} picture
 * @property {number[][]} panels
 * @property {number[]|null} sides
 * @property {string} joints
 * @property {number[]} face
 * @property {string} edge
 * @property {string} outside
 * @property {number[][]|null} insets
 * @property {Object|null} hung
 * @property {boolean} beyond
 * @property {Object} reaches
 * @property {string} ground
 * @property {string[][]} keeps
 * @property {string[][]} found
 * @property {string} found_word
 * @property {string|null} squared
 * @property {Object} typed
 * @property {string} method
 * @property {string} sharpen_for
 * @property {number} sharpness
 * @property {string|null} marks_for
 * @property {string} finish
 * @property {string[]} edges
 * @property {Object} file
 * @property {string} limit
 * @property {string} file_name
 * @property {number} tightness
 * @property {boolean} window
 * @property {boolean} turns
 * @property {number} job_id
 * @property {number} job_size_id
 * @property {Object} photo
 * @property {Object} size
 * @property {string} size_shape
 * @property {Object|null} own_size
 * @property {string} state
 * @property {string} state_word
 * @property {boolean} can_undo
 * @property {boolean} can_redo
 * @property {string[]} steps
 * @property {number[]} numbers
 * @property {number} step
 * @property {number} place
 * @property {boolean} being_made
 * @property {string} not_made
 */

export {};
