<?php

namespace Pestle\App\Sound;

use Pestle\App\Storage\DataFolder;
use Pestle\Core\Render\Asked;
use Pestle\Core\Render\Engine;
use Pestle\Core\Render\EngineClient;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Render\TakesTooLong;
use Symfony\Component\HttpKernel\Exception\ServiceUnavailableHttpException;

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
     *
     * @throws ServiceUnavailableHttpException where newer questions took its turn, or it takes long
     */
    public function ask(array $request): array
    {
        try {
            return self::kept($this->client->ask($request));
        } catch (TakesTooLong $e) {
            throw new ServiceUnavailableHttpException(1, $e->getMessage().' Ask again, if it is still wanted.');
        }
    }

    /**
     * Puts a question and does not wait; null where no engine runs.
     *
     * @param array<string, mixed> $request
     */
    public function put(array $request): ?Asked
    {
        return $this->client->put($request);
    }

    /**
     * @param array{array<string, mixed>, string} $answer
     *
     * @return array{array<string, mixed>, string}
     *
     * @throws ServiceUnavailableHttpException where newer questions took its turn
     */
    public static function kept(array $answer): array
    {
        if (isset($answer[0]['dropped'])) {
            throw new ServiceUnavailableHttpException(1, 'Newer sound was asked for meanwhile. Ask again, if this is still wanted.');
        }

        return $answer;
    }
}
