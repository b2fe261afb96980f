<?php

namespace Pestle\Core\Apart;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\StereoBlock;

/**
 * Takes a recording apart, piece by piece; what a piece is depends on the recording around it alone, so that it can be gone
 * on with after any piece. Drums, bass and voice are the spectra as far as they own them, melody is what is left: the four
 * add up to the recording.
 */
final readonly class Separation
{
    public const PIECE_SECONDS = 10.0;
    /** Values lie on a grid of 24 bits, so that sums of 32-bit floats are exact. */
    private const STEPS = 8_388_608.0;
    /** Owned by no part is what none has more than half of. */
    private const OWNED = 0.5;

    public Spectra $spectra;
    /** Frames of each piece but the last. */
    public int $pieceFrames;
    private Cues $cues;

    /** @param MaskNetwork|null $network in place of the one that comes with Pestle, which is read when it is needed */
    public function __construct(private AudioSource $source, private ?MaskNetwork $network = null, float $pieceSeconds = self::PIECE_SECONDS)
    {
        $this->spectra = new Spectra($source);
        $this->cues = new Cues($this->spectra);
        $hop = $this->spectra->hop;
        $this->pieceFrames = $hop * (int) round($pieceSeconds * $source->sampleRate() / $hop);
    }

    public function pieces(): int
    {
        return max(1, (int) ceil($this->source->frames() / $this->pieceFrames));
    }

    public function piece(int $number): ApartPiece
    {
        $hop = $this->spectra->hop;
        $start = $number * $this->pieceFrames;
        $length = min($this->pieceFrames, $this->source->frames() - $start);
        // A hop's frames are touched by its own spectrum and the three behind it.
        $from = intdiv($start, $hop);
        $to = $from + (int) ceil($length / $hop) + Spectra::OVERLAP - 1;
        $reach = MaskNetwork::REACH;
        $shares = ($this->network ?? self::fitted())->shares($this->cues->between(max(0, $from - $reach), min($this->spectra->count(), $to + $reach)));
        $sums = array_map(fn (): Overlap => new Overlap($this->spectra->fft->size, $hop), range(0, 5));
        $owned = new Owned();
        foreach ($this->spectra->between($from, $to) as $t => [$lr, $li, $rr, $ri]) {
            $mono = $lr === $rr && $li === $ri;
            $bins = array_map($this->spectra->bands->spread(...), $shares[$t]);
            $owned->count($bins, $lr, $li, $rr, $ri, self::OWNED);
            foreach ([0, 1, 3] as $i => $part) {
                $left = $this->spectra->back(self::times($lr, $bins[$part]), self::times($li, $bins[$part]));
                $sums[2 * $i]->add($left);
                $sums[2 * $i + 1]->add($mono ? $left : $this->spectra->back(self::times($rr, $bins[$part]), self::times($ri, $bins[$part])));
            }
        }
        $sides = array_map(static fn (Overlap $sum): array => self::onGrid(\array_slice($sum->done(), (Spectra::OVERLAP - 1) * $hop, $length)), $sums);
        $whole = $this->source->read($start, $length);
        $drums = new StereoBlock($sides[0], $sides[1]);
        $bass = new StereoBlock($sides[2], $sides[3]);
        $voice = new StereoBlock($sides[4], $sides[5]);

        return new ApartPiece($drums, $bass, new StereoBlock(self::rest($whole->left, $drums->left, $bass->left, $voice->left), self::rest($whole->right, $drums->right, $bass->right, $voice->right)), $voice, $owned);
    }

    private static function fitted(): MaskNetwork
    {
        /** @var MaskNetwork|null $network */
        static $network = null;

        return $network ??= MaskNetwork::read(\dirname(__DIR__).'/Analysis/models/apart.bin');
    }

    /**
     * @param list<float> $values
     * @param list<float> $shares
     *
     * @return list<float>
     */
    private static function times(array $values, array $shares): array
    {
        $out = [];
        foreach ($shares as $k => $share) {
            $out[] = $values[$k] * $share;
        }

        return $out;
    }

    /**
     * @param list<float> $values
     *
     * @return list<float>
     */
    private static function onGrid(array $values): array
    {
        foreach ($values as $i => $x) {
            $values[$i] = round($x * self::STEPS) / self::STEPS;
        }

        return $values;
    }

    /**
     * @param list<float> $whole
     * @param list<float> $a
     * @param list<float> $b
     * @param list<float> $c
     *
     * @return list<float>
     */
    private static function rest(array $whole, array $a, array $b, array $c): array
    {
        foreach ($whole as $i => $x) {
            $whole[$i] = $x - ($a[$i] + $b[$i] + $c[$i]);
        }

        return $whole;
    }
}
