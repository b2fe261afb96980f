<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Kit\Role;
use Pestle\Core\Theory\Key;
use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\Tuning;

/** What a recording is: as it was heard, and as the maker says where that is something else. */
final readonly class Description
{
    private const ROLES = ['closed hat' => 'hat', 'open hat' => 'open-hat', 'rim' => 'percussion', 'other' => 'effect'];
    private const SURE_OF_KEY = 0.97;
    private const ATTACK_SECONDS = 0.03;
    /** Only what the maker says is quite sure. */
    private const SUREST = 0.99;
    /** Bars a loop may be off a whole number of them. */
    private const NEARLY_WHOLE = 0.03;

    /**
     * @param array<string, mixed>            $heard as listening gives it; times in frames; empty until it was listened to
     * @param array<string, string|float|int> $said  what the maker set in place of a guess
     */
    public function __construct(private array $heard, private array $said, private int $frames, private int $rate)
    {
    }

    /** One-shot, loop or song. */
    public function kind(): string
    {
        return (string) ($this->fact('kind') ?? 'one-shot');
    }

    public function isOneShot(): bool
    {
        return 'one-shot' === $this->kind();
    }

    /** Whether it is made of hits, each of a kind, rather than of tones. */
    public function isMadeOfHits(): bool
    {
        return 'hits' === ($this->heard['material'] ?? 'hits');
    }

    public function isLoop(): bool
    {
        return !$this->isOneShot() && null !== $this->bpm();
    }

    /** Beats a minute; of all of it together, where they are not even. */
    public function bpm(): ?float
    {
        $grid = $this->grid();

        return null === $grid || ($grid->isEven() && !$this->isSaid('grid')) ? $this->saidBpm() : $grid->meanBpm($this->frames / $this->rate);
    }

    /** By hand, or as it was guessed for the whole. */
    private function saidBpm(): ?float
    {
        return $this->isOneShot() ? null : $this->number('bpm');
    }

    /** How its beats are counted; four to a bar where nothing speaks against it. */
    public function meter(): Meter
    {
        return Meter::named((string) ($this->fact('meter') ?? '4/4'));
    }

    /** Beats of its grid in a bar. */
    public function beatsABar(): int
    {
        return $this->meter()->countedBeats($this->bpm() ?? 0.0);
    }

    /**
     * How many quarters of a beat one beat of it is: one, but for a dotted or an eighth beat where the beat itself goes in eighths
     * that are counted so. Into four quarters a groove in twelve goes beat by beat, and its thirds are triplets there.
     */
    public function quartersABeat(Meter $of): float
    {
        $meter = $this->meter();

        return $meter->isInThrees() && 4 === $of->unit ? 1.0 : $meter->quarters() / $this->beatsABar();
    }

    /** When its length is a whole number of bars at its tempo. */
    public function bars(): ?int
    {
        return true === $this->grid()?->isEven() ? self::wholeBars($this->frames / $this->rate, $this->bpm(), $this->beatsABar()) : null;
    }

    /** @return int|null how many bars some seconds are, where that is nearly a whole number */
    public static function wholeBars(float $seconds, ?float $bpm, int $beatsABar): ?int
    {
        $bars = null === $bpm ? 0.0 : $seconds * $bpm / 60.0 / $beatsABar;

        return $bars >= 0.9 && abs($bars - round($bars)) < self::NEARLY_WHOLE ? (int) round($bars) : null;
    }

    /** What is made of hits has none, unless it is very sure or the maker says so. */
    public function key(): ?string
    {
        if ($this->isMadeOfHits() && $this->sure('key') < self::SURE_OF_KEY) {
            return null;
        }

        // Some were told when keys were spelled with sharps alone.
        return null === $this->fact('key') ? null : Key::named((string) $this->fact('key'))->name();
    }

    /** How far its key is off 440 Hz. */
    public function tuning(): Tuning
    {
        return Tuning::cents(null === $this->key() || $this->isSaid('key') ? 0.0 : (float) $this->fact('tuning'));
    }

    /** MIDI note with its fraction, of a single sound. */
    public function pitch(): ?float
    {
        return $this->isOneShot() && ($this->sure('note') >= 0.5 || $this->isSaid('note')) ? $this->number('note') : null;
    }

    /** How sure a guess is, 0 to 1; 1 for what the maker set. */
    public function sure(string $fact): float
    {
        $sure = $this->heard[$fact.'Sure'] ?? 0.0;

        return $this->isSaid($fact) || ('bpm' === $fact && $this->isSaid('grid')) ? 1.0 : (is_numeric($sure) ? min(self::SUREST, (float) $sure) : 0.0);
    }

    public function role(): Role
    {
        return Role::tryFrom((string) $this->fact('role')) ?? ($this->isOneShot() && [] !== $this->hits() ? self::roleOf($this->hits()[0][1]) : Role::Tonal);
    }

    /** The role of a hit of some kind, as hits are heard. */
    public static function roleOf(string $kind): Role
    {
        return Role::tryFrom(self::ROLES[$kind] ?? $kind) ?? Role::Effect;
    }

    /** @return list<array{int, string, float, float}> frame, kind, how sure, level */
    public function hits(): array
    {
        /** @var list<array{int, string, float, float}> $hits */
        $hits = $this->heard['hits'] ?? [];

        return $hits;
    }

    /** The maker's own; even, where a tempo was set; or as it was heard. None for one-shots. */
    public function grid(): ?BeatGrid
    {
        if ($this->isSaid('grid')) {
            return BeatGrid::decode((string) $this->said['grid']);
        }
        $bpm = $this->saidBpm();
        if (null === $bpm) {
            return null;
        }
        $heard = $this->heard['downbeat'] ?? 0;
        $downbeat = (float) ($this->said['downbeat'] ?? (\is_int($heard) ? $heard / $this->rate : 0.0));
        if ($this->isSaid('bpm') || $this->isSaid('downbeat')) {
            return BeatGrid::even($bpm, $downbeat);
        }
        $aBar = $this->meter()->countedBeats($bpm);
        $isCut = 'loop' === $this->kind() && null !== self::wholeBars($this->frames / $this->rate, $bpm, $aBar);
        // Chords seldom fall on every beat: a loop of them that is whole bars long is taken for even. Drums are heard to drift.
        if (true === ($this->heard['steady'] ?? true) || ($isCut && !$this->isMadeOfHits())) {
            // A loop of whole bars was cut at its first bar; what is heard there begins a little later.
            return BeatGrid::even($bpm, $isCut && $downbeat < self::ATTACK_SECONDS ? 0.0 : $downbeat);
        }
        /** @var list<int> $beats */
        $beats = $this->heard['beats'] ?? [];

        return BeatGrid::heard(array_map(fn (int $frame): float => $frame / $this->rate, $beats), $downbeat, $bpm, $aBar);
    }

    /** The maker set it in place of a guess. */
    public function isSaid(string $fact): bool
    {
        return isset($this->said[$fact]);
    }

    private function number(string $fact): ?float
    {
        $value = $this->fact($fact);

        return null === $value ? null : (float) $value;
    }

    private function fact(string $name): string|float|int|null
    {
        $value = $this->said[$name] ?? $this->heard[$name] ?? null;

        return \is_scalar($value) && !\is_bool($value) ? $value : null;
    }
}
