<?php

namespace Pestle\App\Sound;

use Pestle\App\Storage\DataFolder;
use Pestle\Core\Render\Engine;
use Pestle\Core\Render\EngineClient;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;

/** The way to the engine. */
final readonly class Sound
{
    private EngineClient $client;

    public function __construct(DataFolder $folder)
    {
        $this->client = new EngineClient(
            $folder->engineSocket(),
            static fn (): Engine => new Engine(new SampleLibrary($folder->samples(), $folder->edited(), false), new SegmentCache(64_000_000, $folder->cache()), 1_000_000),
        );
    }

    /**
     * @param array<string, mixed> $request
     *
     * @return array{array<string, mixed>, string} answer and sound
     */
    public function ask(array $request): array
    {
        return $this->client->ask($request);
    }
}
