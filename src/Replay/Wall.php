<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

/**
 * The headers that keep an archived page in the archive. They go with every answer of its hosts, errors too: every
 * destination but the archive's pages is closed (Content Security Policy Level 3), the page is sandboxed without
 * pop-ups, downloads or navigation of the window, and what a policy for resources does not cover (WebRTC, preconnect,
 * DNS) is closed by the connection allow-list.
 */
final readonly class Wall
{
    /**
     * @param string $pages `http://*.localhost:8020`: where archived pages stand
     *
     * @return array<string, string>
     */
    public static function headers(ReplayMode $mode, string $pages, string $nonce): array
    {
        $scripts = ReplayMode::Alive === $mode ? $pages." data: blob: 'unsafe-inline' 'unsafe-eval'" : "'nonce-".$nonce."'";

        return [
            'Content-Security-Policy' => implode('; ', [
                'sandbox allow-scripts'.(ReplayMode::Alive === $mode ? ' allow-forms' : ''),
                "default-src {$pages} data: blob: 'unsafe-inline'",
                'script-src '.$scripts,
                'worker-src '.(ReplayMode::Alive === $mode ? $pages.' data: blob:' : "'none'"),
                'connect-src '.(ReplayMode::Alive === $mode ? $pages.' data: blob:' : "'none'"),
                "base-uri {$pages}",
                'form-action '.(ReplayMode::Alive === $mode ? $pages : "'none'"),
                "object-src {$pages}",
            ]),
            // Redirects are ours, and lead to the archive's pages only.
            'Connection-Allowlist' => '(response-origin "'.$pages.'/*");redirects=allow',
            'Permissions-Policy' => 'accelerometer=(), autoplay=(), camera=(), display-capture=(), encrypted-media=(),'
                .' fullscreen=(self), geolocation=(), gyroscope=(), hid=(), idle-detection=(), local-fonts=(), magnetometer=(),'
                    .' microphone=(), midi=(), payment=(), publickey-credentials-get=(), screen-wake-lock=(), serial=(), usb=(),'
                        .' xr-spatial-tracking=()',
            'Referrer-Policy' => 'no-referrer',
            'X-DNS-Prefetch-Control' => 'off',
            // Lets our script in the page see which parts are missing or come from another moment ({@see PageAnswers}).
            'Timing-Allow-Origin' => 'null',
            // Who may read it is said answer by answer ({@see OpenTo}).
            'Vary' => 'Origin',
            'Cross-Origin-Resource-Policy' => 'cross-origin',
            'Cache-Control' => 'private, max-age=60',
        ];
    }
}
