<?php

declare(strict_types=1);

namespace Ypomna\App\Ui\Demo;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Ypomna\App\Capture\RecordedCaptures;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\CurrentPerson;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\WarcReader;

/** The captures of the demo, as `bin/make-demo` made them, each on its day. */
final readonly class DemoCaptures
{
    public function __construct(
        private RecordedCaptures $captures,
        private DemoClock $clock,
        private CurrentPerson $person,
        #[Autowire('%kernel.project_dir%/demo')] private string $folder,
    ) {
    }

    /** @return int how many captures came in */
    public function load(): int
    {
        $files = glob($this->folder.'/*.warc.gz');
        $files = false === $files ? [] : $files;
        sort($files);
        foreach ($files as $file) {
            $this->file($file);
        }
        $failed = json_decode((string) @file_get_contents($this->folder.'/failed.json'), true);
        foreach (\is_array($failed) ? $failed : [] as $values) {
            $text = static fn (string $name): string => \is_array($values) && \is_string($values[$name] ?? null) ? $values[$name] : '';
            $at = new \DateTimeImmutable($text('at'));
            $this->clock->set($at);
            $this->captures->enterFailure(
                $this->person->actor(), $text('code'), $text('url'), $at, $text('reason'), $text('message'),
            );
        }

        return \count($files);
    }

    private function file(string $file): void
    {
        if (1 !== preg_match('/^(\d{8}T\d{6})Z-('.Codes::PATTERN.')\.warc\.gz$/', basename($file), $m)) {
            throw new \RuntimeException(\sprintf('“%s” is not named as a capture is.', basename($file)));
        }
        $at = new \DateTimeImmutable($m[1], new \DateTimeZone('UTC'));
        $this->clock->set($at);
        $this->captures->enter($this->person->actor(), $m[2], self::address($file), $at, $file);
    }

    /** What was asked for: the target of the file's first request. */
    private static function address(string $file): string
    {
        foreach (WarcReader::open($file)->records() as $record) {
            $target = $record->header->is(RecordType::Request) ? $record->header->fields->get('WARC-Target-URI') : null;
            if (null !== $target) {
                return trim($target, '<>');
            }
        }
        throw new \RuntimeException(\sprintf('“%s” holds no request.', basename($file)));
    }
}
