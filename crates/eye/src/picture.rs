//! What is at a place of the photo?

/// A photo of eight bits a channel, the right way up.
#[derive(Clone, Debug, PartialEq)]
pub struct Picture {
    wide: usize,
    high: usize,
    rgb: Vec<u8>,
}

/// How light a pixel looks as it is coded, by the weights of video (Rec. 601).
pub fn light([r, g, b]: [f64; 3]) -> f64 {
    0.299 * r + 0.587 * g + 0.114 * b
}

/// Pixels beyond which a photo is read at half its size: what is asked of it is larger than a few of them.
const MOST_PIXELS: usize = 5_000_000;

impl Picture {
    /// Of its pixels, line by line, red, green and blue; none where there are not as many as it says.
    ///
    /// ```
    /// use rosy_eye::picture::Picture;
    /// let picture = Picture::of(2, 1, vec![0, 0, 0, 255, 255, 255]).unwrap();
    /// assert_eq!(picture.at([1.0, 0.5]), Some([0.5; 3])); // half way from the middle of one to that of the other
    /// assert_eq!(picture.at([5.0, 0.5]), None);
    /// assert!(Picture::of(2, 2, vec![0; 6]).is_none());
    /// ```
    pub fn of(wide: usize, high: usize, rgb: Vec<u8>) -> Option<Picture> {
        (wide > 0 && high > 0 && rgb.len() == 3 * wide * high).then_some(Picture { wide, high, rgb })
    }

    /// Pixels across and down.
    pub fn size(&self) -> [usize; 2] {
        [self.wide, self.high]
    }

    /// The same, made smaller by a whole factor where it has more pixels than it takes; and that factor.
    pub fn as_read(self) -> (Picture, usize) {
        let factor = ((self.wide * self.high) as f64 / MOST_PIXELS as f64).sqrt().ceil().max(1.0) as usize;
        if factor == 1 { (self, 1) } else { (self.smaller(factor), factor) }
    }

    /// Each square of so many pixels a side as one.
    pub fn smaller(&self, factor: usize) -> Picture {
        let (wide, high) = ((self.wide / factor).max(1), (self.high / factor).max(1));
        let mut rgb = Vec::with_capacity(3 * wide * high);
        for y in 0..high {
            for x in 0..wide {
                let mut sums = [0u32; 3];
                let mut count = 0;
                for j in y * factor..((y + 1) * factor).min(self.high) {
                    for i in x * factor..((x + 1) * factor).min(self.wide) {
                        let at = 3 * (i + j * self.wide);
                        for (sum, value) in sums.iter_mut().zip(&self.rgb[at..at + 3]) {
                            *sum += u32::from(*value);
                        }
                        count += 1;
                    }
                }
                rgb.extend(sums.map(|sum| ((sum + count / 2) / count) as u8));
            }
        }
        Picture { wide, high, rgb }
    }

    /// A pixel, each channel 0 to 1.
    pub fn pixel(&self, x: usize, y: usize) -> [f64; 3] {
        let at = 3 * (x + y * self.wide);
        [self.rgb[at], self.rgb[at + 1], self.rgb[at + 2]].map(|value| f64::from(value) / 255.0)
    }

    /// What is seen at a place between pixels, whose middles lie at halves; nothing outside of the photo.
    pub fn at(&self, [x, y]: [f64; 2]) -> Option<[f64; 3]> {
        let (u, v) = (x - 0.5, y - 0.5);
        let within =
            (-0.5..=self.wide as f64 - 0.5).contains(&u) && (-0.5..=self.high as f64 - 0.5).contains(&v);
        if !within {
            return None;
        }
        let (u, v) = (u.clamp(0.0, (self.wide - 1) as f64), v.clamp(0.0, (self.high - 1) as f64));
        let (i, j) = ((u as usize).min(self.wide - 1), (v as usize).min(self.high - 1));
        let (next, below) = ((i + 1).min(self.wide - 1), (j + 1).min(self.high - 1));
        let (du, dv) = (u - i as f64, v - j as f64);
        let [a, b] = [self.pixel(i, j), self.pixel(next, j)];
        let [c, d] = [self.pixel(i, below), self.pixel(next, below)];
        Some(std::array::from_fn(|k| {
            let (top, foot) = (a[k] + du * (b[k] - a[k]), c[k] + du * (d[k] - c[k]));
            top + dv * (foot - top)
        }))
    }
}
