<?php

declare(strict_types=1);

namespace Ypomna\Standin\Site;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Standin\Web\Site;

/** The maker of the seal: https with redirects, a data sheet in PDF; the name lapses and is for sale. */
final class Corvane implements Site
{
    public function hosts(\DateTimeImmutable $now): array
    {
        return ['corvane-marine.test', 'www.corvane-marine.test'];
    }

    public function answer(Request $request): Response
    {
        if ($request->since('2025-10-01')) {
            return Response::html(
                '<html><head><title>corvane-marine.test</title></head><body'
                    .' style="font-family:sans-serif;text-align:center;margin-top:12vh"><h1>corvane-marine.test</h1><p>This name may be'
                        .' for sale.</p><p><a href="/offer">Make an offer</a> for it today.</p><p>Related searches: seals, marine,'
                            .' doors, ferry tickets</p></body></html>',
            );
        }
        if (!$request->tls || 'corvane-marine.test' !== $request->host) {
            return Response::redirect('https://corvane-marine.test'.$request->path, 308);
        }

        return match (rtrim($request->path, '/')) {
            '' => $this->page(
                'Corvane Marine: seals for doors that matter',
                '<h1>Seals for doors that matter</h1><p>Since 1974 we have made seals for bow, stern and side doors.</p><p><a'
                    .' href="/products/stern-seal-400">Stern seal 400</a> · <a href="/products/bow-seal-210">Bow seal 210</a></p>',
            ),
            '/products/stern-seal-400' => $this->page('Stern seal 400', $this->seal($request)),
            '/products/bow-seal-210' => $this->page(
                'Bow seal 210', '<h1>Bow seal 210</h1><p>For visors up to nine metres. Rated for 40,000 closings.</p>',
            ),
            '/downloads/stern-seal-400.pdf' => Response::of(
                'application/pdf',
                Art::pdf([
                    'Corvane Marine',
                    'Data sheet: stern seal 400',
                    'Rated for '.$this->closings($request).' closings or '.$this->years($request).' years',
                    'Shore hardness 60 +/- 5',
                    'Inspect every 90 days.',
                ]),
            ),
            '/site.css' => Response::of(
                'text/css',
                'body{font:15px/1.5 Verdana,sans-serif;margin:0;color:#123}header{background:#123;color:#fff;padding:16px'
                    .' 28px}main{padding:16px 28px;max-width:760px}td,th{padding:3px 14px 3px 0;text-align:left;border-bottom:1px solid'
                        .' #ccd}',
            )->with('ETag', '"c1"'),
            default => $this->page('Not found', '<h1>404</h1><p>Nothing here.</p>', 404),
        };
    }

    private function seal(Request $request): string
    {
        $note = $request->since('2025-01-28')
            ? '<p>Service life depends on use. Consult us about replacement.</p>'
            : '<p>Replace after three years at the latest, whatever the number of closings.</p>';

        return <<<HTML
            <h1>Stern seal 400</h1>
            <p>A hollow ring seal for stern doors up to twelve metres.</p>
            <table><tr><th>Closings</th><td>{$this->closings($request)}</td></tr><tr><th>Service life</th><td>{$this->years($request)}
            years</td></tr><tr><th>Temperature</th><td>-25 to +70 °C</td></tr></table>
            {$note}
            <p><a href="/downloads/stern-seal-400.pdf">Data sheet (PDF)</a></p>
            HTML;
    }

    private function closings(Request $request): string
    {
        return $request->at(['2024-03-01' => '12,000', '2025-01-28' => '20,000']);
    }

    private function years(Request $request): string
    {
        return $request->at(['2024-03-01' => '3', '2024-12-12' => '5', '2025-01-28' => 'up to 8']);
    }

    private function page(string $title, string $main, int $status = 200): Response
    {
        return Response::html(
            "<!DOCTYPE html>\n<html lang=\"en\"><head><title>{$title}</title><link rel=\"stylesheet\" href=\"/site.css\"></head>\n<body>"
                ."<header>CORVANE MARINE</header><main>{$main}</main></body></html>",
            $status,
        )->with('Strict-Transport-Security', 'max-age=86400');
    }
}
