<?php

namespace Pestle\App\Machines;

use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;

/** What became of an errand. */
final readonly class Report
{
    private const MOST_FILES = 100;

    /**
     * @param string                $id      of the job
     * @param string                $place   where its files lie
     * @param array<string, string> $files   by name, their sum
     * @param array<string, mixed>  $said
     * @param string|null           $trouble in words
     * @param bool                  $givenUp whether each who began it ended before it was done
     */
    public function __construct(public string $id, public string $place = '', public array $files = [], public array $said = [], public ?string $trouble = null, public bool $givenUp = false)
    {
    }

    /** @throws \JsonException where it holds what JSON has no word for */
    public function toJson(): string
    {
        return json_encode(['id' => $this->id, 'place' => $this->place, 'files' => (object) $this->files, 'said' => (object) $this->said, 'trouble' => $this->trouble, 'givenUp' => $this->givenUp], \JSON_THROW_ON_ERROR | \JSON_PRESERVE_ZERO_FRACTION | \JSON_UNESCAPED_SLASHES);
    }

    /** @throws InvalidChange where it is none */
    public static function fromJson(string $json): self
    {
        $fields = new Fields((array) json_decode($json, true));
        $files = [];
        $said = $fields->nested('files');
        foreach (\array_slice($said->keys(), 0, self::MOST_FILES) as $name) {
            $files[SharedFiles::name($name)] = $said->hash($name);
        }
        /** @var array<string, mixed> $says */
        $says = (array) $fields->raw('said');

        return new self(
            (string) $fields->whole('id', 1, \PHP_INT_MAX),
            [] === $files ? '' : $fields->text('place', 200),
            $files,
            $says,
            \is_string($trouble = $fields->raw('trouble')) ? Fields::fitted($trouble, 'It could not be made.', 400) : null,
            $fields->flag('givenUp'),
        );
    }
}
