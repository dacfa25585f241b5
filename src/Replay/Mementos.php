<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Symfony\Component\HttpFoundation\ResponseHeaderBag;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Http\HttpDate;

/** What the standard protocol says of a capture in its headers (RFC 7089, sections 2 and 3). */
final readonly class Mementos
{
    public function __construct(private CaptureRepository $captures, private UrlGeneratorInterface $urls)
    {
    }

    public function describe(Viewer $viewer, ResponseHeaderBag $headers, Capture $capture): void
    {
        $headers->set('Memento-Datetime', self::date($capture->capturedAt));
        $links = $this->ofAddress($capture->url);
        $around = [
            'first' => $this->captures->first($viewer, $capture->address),
            'prev' => $this->captures->earlier($viewer, $capture),
            'next' => $this->captures->later($viewer, $capture),
            'last' => $this->captures->last($viewer, $capture->address),
        ];
        $relations = [];
        foreach ($around as $relation => $other) {
            if (null !== $other) {
                $relations[$other->code] = [$other, trim(($relations[$other->code][1] ?? '').' '.$relation)];
            }
        }
        $relations[$capture->code] ??= [$capture, ''];
        foreach ($relations as [$other, $relation]) {
            $links[] = $this->link($other, trim($relation.' memento'));
        }
        $headers->set('Link', implode(', ', $links));
    }

    /**
     * Links to the original, its TimeGate and its TimeMap.
     *
     * @return list<string>
     */
    public function ofAddress(string $url): array
    {
        return [
            '<'.self::safe($url).'>; rel="original"', '<'.$this->timeGate($url).'>; rel="timegate"',
            '<'.$this->timeMap($url, 'link').'>; rel="timemap"; type="application/link-format"',
            '<'.$this->timeMap($url, 'json').'>; rel="timemap"; type="application/json"',
        ];
    }

    public function link(Capture $capture, string $relation): string
    {
        return '<'.$this->raw($capture).'>; rel="'.$relation.'"; datetime="'.self::date($capture->capturedAt).'"';
    }

    /** The capture as it was received. */
    public function raw(Capture $capture): string
    {
        return $this->urls->generate('raw', ['code' => $capture->code], UrlGeneratorInterface::ABSOLUTE_URL);
    }

    public function timeGate(string $url): string
    {
        return $this->urls->generate('first', [], UrlGeneratorInterface::ABSOLUTE_URL).'timegate/'.self::safe($url);
    }

    /** @param string $mark where a page of it begins; '' for the first */
    public function timeMap(string $url, string $form, string $mark = ''): string
    {
        return $this->urls->generate('first', [], UrlGeneratorInterface::ABSOLUTE_URL).'timemap/'.$form.('' === $mark ? '' : '/from/'.$mark)
            .'/'.self::safe($url);
    }

    /** RFC 9110, section 5.6.7. */
    public static function date(\DateTimeImmutable $moment): string
    {
        return HttpDate::write($moment);
    }

    /** An address that can stand between angle brackets in a header. */
    private static function safe(string $url): string
    {
        return (string) preg_replace_callback(
            '/[\x00-\x20"<>\\\\^`{|}\x7f-\xff]/', static fn (array $m): string => \sprintf('%%%02X', \ord($m[0])), $url,
        );
    }
}
