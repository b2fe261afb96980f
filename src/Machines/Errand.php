<?php

namespace Pestle\App\Machines;

use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;

/** A job as it goes to another machine, with all that it needs. */
final readonly class Errand
{
    private const MOST_SAMPLES = 20_000;

    /**
     * @param string                $home    whose it is
     * @param string                $id      of the job there
     * @param string                $task    name of what is to be done
     * @param array<string, mixed>  $what    as the task packed it
     * @param array<string, string> $samples by hash of the sample, sum of the file that is played
     * @param string                $entry   in the stream it was taken from
     * @param int                   $tries   how often it was begun, this time counted in
     */
    public function __construct(public string $home, public string $id, public string $lane, public string $task, public array $what, public array $samples, public string $entry = '', public int $tries = 1)
    {
    }

    public function taken(string $entry, int $tries): self
    {
        return new self($this->home, $this->id, $this->lane, $this->task, $this->what, $this->samples, $entry, $tries);
    }

    /** @throws \JsonException where it holds what JSON has no word for */
    public function toJson(): string
    {
        return json_encode(['home' => $this->home, 'id' => $this->id, 'lane' => $this->lane, 'task' => $this->task, 'what' => $this->what, 'samples' => (object) $this->samples], \JSON_THROW_ON_ERROR | \JSON_PRESERVE_ZERO_FRACTION | \JSON_UNESCAPED_SLASHES);
    }

    /** @throws InvalidChange where it is none */
    public static function fromJson(string $json): self
    {
        $fields = new Fields((array) json_decode($json, true));
        $samples = [];
        $said = $fields->nested('samples');
        foreach (\array_slice($said->keys(), 0, self::MOST_SAMPLES) as $hash) {
            $samples[(new Fields(['sample' => $hash]))->hash('sample')] = $said->hash($hash);
        }
        /** @var array<string, mixed> $what */
        $what = (array) $fields->raw('what');

        return new self($fields->hash('home'), (string) $fields->whole('id', 1, \PHP_INT_MAX), $fields->id('lane'), $fields->id('task'), $what, $samples);
    }
}
